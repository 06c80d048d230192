import { doubledChrome } from '../doubled-chrome.js'
import { viewRule } from '../rule.js'

/** The theme's header and one that was built. */
export const headerDoubled = viewRule({
  id: 'header-doubled',
  summary: 'The page shows the theme’s header and, in its body, a header or navigation that was built.',
  matters: 'Two headers take the room of one, and a visitor wonders which menu is the true one.',
  holds:
    'The header is printed, and a section of the body has the role `banner`, or the first one `navigation`. sources counts all headers.',
  example: `purposes: { front: visit }
surrounds: { top: { as: header, height: 60px } }
theme: { layout: { header: { use: top } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, role: banner, items: [ { text: words } ] } ] } }
`,
  ...doubledChrome(
    'header',
    (role, section, { firstSection }) => role === 'banner' || (role === 'navigation' && section === firstSection),
  ),
})
