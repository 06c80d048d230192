import { overridePages, pagesInWords, removeAt } from '../propose.js'
import { isInside } from '../sight.js'
import { pageRule } from '../rule.js'
import type { Sight } from '../sight.js'

/** The lead picture twice, or never. */
export const leadImageDoubled = pageRule({
  id: 'lead-image-doubled',
  severity: 'note',
  facet: 'body',
  summary: 'The page’s lead picture is also in its first section, or it is set and never printed.',
  matters: 'The same picture is shown twice, or a picture that was chosen is never shown.',
  holds:
    'The lead picture is printed and the first section has the same; or it is set, and the lead image is printed at no viewport. times counts how often it is seen.',
  example: `assets: { dome: { width: 160, height: 90 } }
pages: { visit: { path: /visit, title: Visit, image: dome, layout: { leadImage: shown }, body: [ { section: s, items: [ { image: dome }, { text: words } ] } ] } }
`,
  numbers: ['times'],
  message: ({ worst }) =>
    worst.numbers['times'] === 0
      ? 'the lead picture is set and never printed'
      : 'the lead picture is shown twice, once by the theme and once in the first section',
  advice: 'remove one of the two, or show the lead image',
  check(sight, report) {
    const { image } = sight.page.data
    if (image === undefined || !sight.sights[0]?.frame.asset(image)) return
    const printed = sight.some(({ measure }) => measure.box('leadImage') !== undefined)
    const twice = sight.sights.find((each) => each.measure.box('leadImage') && inFirstSection(each, image))
    const at = sight.pointer('image')
    if (twice) report({ at, numbers: { times: 2 }, words: { item: inFirstSection(twice, image) ?? '' } })
    else if (!printed) report({ at, numbers: { times: 0 } })
  },
  propose: ({ at, pages, worst }, { site }) => {
    const item = worst.words?.['item']
    if (worst.numbers['times'] === 0)
      return [
        {
          title: `show the lead image on ${pagesInWords(pages)}`,
          patch: overridePages(site, pages, 'leadImage.presence', 'shown'),
          choice: true,
        },
        { title: 'remove the lead picture', patch: removeAt(site, at), choice: true },
      ]
    return [
      ...(item
        ? [
            {
              title: 'remove the one in the first section',
              patch: [{ op: 'remove' as const, path: item }],
              choice: true,
            },
          ]
        : []),
      {
        title: `hide the theme’s lead image on ${pagesInWords(pages)}`,
        patch: overridePages(site, pages, 'leadImage.presence', 'absent'),
        choice: true,
      },
    ]
  },
})

/** Pointer of the item (or background) of the first section that shows a picture. */
function inFirstSection({ firstSection, items }: Sight, image: string): string | undefined {
  if (!firstSection) return undefined
  if (firstSection.data.background?.image === image) return `${firstSection.pointer}/background/image`
  return items.find(({ item, pointer }) => item.image === image && isInside(pointer, firstSection.pointer))?.pointer
}
