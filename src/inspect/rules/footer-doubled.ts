import { doubledChrome } from '../doubled-chrome.js'
import { viewRule } from '../rule.js'

/** The theme's footer and one that was built. */
export const footerDoubled = viewRule({
  id: 'footer-doubled',
  summary: 'The page shows the theme’s footer and, in its body, a footer that was built.',
  matters: 'A page that ends twice looks broken, and its small print may disagree with itself.',
  holds: 'The footer is printed, and a section of the body has the role `contentinfo`. sources counts all footers.',
  example: `surrounds: { foot: { as: footer, height: 60px } }
theme: { layout: { footer: { use: foot } } }
pages: { visit: { path: /visit, title: Visit, body: [ { section: s, role: contentinfo, items: [ { text: words } ] } ] } }
`,
  ...doubledChrome('footer', (role) => role === 'contentinfo'),
})
