import Convert from 'ansi-to-html'

// The plain terminal palette is too dark on this ground.
const COLORS = { 1: '#ff7b72', 2: '#8fd694', 3: '#f2c46d', 6: '#7fd1e0' }
const convert = new Convert({ fg: '#d8dee9', bg: '#151a23', escapeXML: true, colors: COLORS })

/** A page that shows a command and its colored output as a terminal does. */
export function hostAnsi(command, output) {
  return `<!doctype html><meta charset="utf-8"><style>
    body { margin: 0; background: #151a23; color: #d8dee9; }
    pre { margin: 0; padding: 20px 24px; font: 14px/1.45 "DejaVu Sans Mono", monospace; }
  </style><pre><span style="color:#8fbcbb">$ ${command}</span>\n\n${convert.toHtml(output)}</pre>`
}
