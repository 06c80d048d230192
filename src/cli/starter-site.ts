import { stringify } from 'yaml'

/**
 * A small site file with one of everything that matters at the start, and a comment for each.
 *
 * @param schema - JSON Schema that editors check the file by, relative to it.
 */
export function starterSite(name: string, url: string | undefined, schema: string | undefined): string {
  const value = (text: string): string => stringify(text, { lineWidth: 0, blockQuote: false }).trimEnd()
  return `${schema === undefined ? '' : `# yaml-language-server: $schema=./${schema}\n`}wembra: 1
site:
  name: ${value(name)}
${url === undefined ? '  # url: https://…' : `  url: ${value(url)}`}

# The screen widths that are worked out.
viewports:
  desk: { width: 1280, height: 800 }
  tablet: { width: 768, height: 1024 }
  phone: { width: 390, height: 844 }

# Theme options: the defaults for every page.
theme:
  layout:
    header: { use: main-header }
    footer: { use: main-footer }
    width: { max: 1160px, gutter: 24px }
    spacing: 48px

menus:
  primary:
    - { label: Home, page: home }
    - { label: Visit, page: visit }

# Headers, footers and sidebars that pages share.
surrounds:
  main-header:
    as: header
    background: "#ffffff"
    rows: [ { padding: 16px 24px, items: [ { text: ${value(name)} }, { menu: primary } ] } ]
  main-footer:
    as: footer
    rows: [ { padding: 24px, items: [ { text: ${value(`© ${name}`)} } ] } ]

# What a kind of page, or a page that chooses it, gets instead.
templates:
  landing:
    layout: { title: absent, spacing: 0 }

purposes: { front: home }

pages:
  home:
    path: /
    title: ${value(name)}
    template: landing
    body:
      - section: hero
        band: full
        breakout: true
        background: { color: "#12324a" }
        ink: "#ffffff"
        padding: 96px 24px
        items: [ { heading: 1, text: ${value(name)} } ]
  visit:
    path: /visit
    title: Visit
    body:
      - section: hours
        items: [ { text: Open every day from ten to five. } ]
`
}
