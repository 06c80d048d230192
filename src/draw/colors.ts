/**
 * Colors of drawings, by what a box is. Tints differ in lightness as well as in hue, and every box is named in words,
 * so that nothing rests on telling colors apart (WCAG 2.2, 1.4.1).
 */
export const FILLS: Readonly<Record<string, string>> = {
  page: '#ffffff',
  header: '#c9d7ef',
  footer: '#b9c3d3',
  title: '#f6dfb2',
  byline: '#faf0d8',
  leadImage: '#d7cfe8',
  sidebar: '#cfe6dc',
  comments: '#e6e0d2',
  insert: '#f3d9cf',
  section: '#eef1f4',
  item: '#ffffff',
}
export const INK = '#1b2230'
export const FAINT = '#66707f'
export const RULE = '#c8cdd4'
export const ALARM = '#b3261e'
export const PAPER = '#f7f7f5'
