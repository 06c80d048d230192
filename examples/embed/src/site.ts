/** The site that the page is edited on: what an editor knows of it, as one text. */
export const SITE = `wembra: 1
site: { name: Quillmere Observatory }
surrounds:
  top:
    as: header
    background: "#fbfaf7"
    rows: [ { id: bar, padding: 20px 24px, items: [ { logo: mark, height: 48px }, { menu: main, height: 24px } ] } ]
  foot: { as: footer, rows: [ { padding: 24px, items: [ { menu: main } ] } ] }
assets: { mark: { width: 140, height: 48 } }
menus: { main: [ { label: Home, page: home }, { label: This page, page: draft } ] }
theme:
  layout:
    header: { use: top, position: fixed }
    footer: { use: foot }
    width: { max: 960px }
templates:
  landing:
    layout: { header: { position: flow }, title: absent, width: full, spacing: 0 }
    arrange: [ content ]
purposes: { front: home }
pages:
  home: { path: /, title: Home, share: { image: mark } }
  draft: { path: /draft, title: Open night, share: { image: mark } }
`
