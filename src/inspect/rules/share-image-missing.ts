import { pageRule } from '../rule.js'

/** Pages without a picture to share. */
export const shareImageMissing = pageRule({
  id: 'share-image-missing',
  severity: 'note',
  facet: 'site',
  summary: 'A page that can be found has no picture for those who share it.',
  matters: 'Shared, it is a gray box with a line of text.',
  holds: 'The page is published and findable, and has no `share.image`. All such pages are one finding.',
  example: `pages: { visit: { path: /visit, title: Visit, body: [ { section: s, items: [ { text: words } ] } ] } }
`,
  numbers: [],
  message: ({ pages }) => `${pages.length === 1 ? 'a page has' : `${pages.length} pages have`} no picture to share`,
  advice: 'set share: { image: … } on these pages',
  check(sight, report) {
    const isFindable = sight.some(({ view }) => view.value('findable.web') === true)
    if (sight.isPublished && isFindable && sight.page.data.share?.image === undefined)
      report({ at: '/pages', numbers: {} })
  },
})
