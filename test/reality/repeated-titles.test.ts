import { expect } from 'chai'
import type { Observation, ObservationFailure } from 'wembra/reality'
import { withoutRepeatedTitles } from '../../src/reality/repeated-titles.js'

type Heading = Observation['headings'][number]

const heading = (text: string, level = 1, place: Heading['place'] = 'body'): Heading => ({
  ...{ level, text, presence: 'shown', place, box: { x: 0, y: 10 * level, width: 300, height: 40 } },
})

/** A page of which a heading 1 was taken for the title. */
const page = (
  path: string,
  name: string,
  headings: readonly Heading[],
  by: 'guess' | 'locator' = 'guess',
): Observation => ({
  ...{ wembra: 1, report: 'observation', url: `https://tarn.example${path}`, title: name, types: [], classes: [] },
  viewport: { name: 'desk', width: 1280, height: 800 },
  parts: { title: { presence: 'shown', by, selector: 'h1', text: headings[0]?.text ?? '' } },
  ...{ landmarks: [], headings: [...headings], outline: [], comments: false },
  exits: { header: [], footer: [], sidebar: [], body: [] },
})
const titles = (seen: readonly Observation[]): (string | undefined)[] =>
  withoutRepeatedTitles(seen).map(({ parts }) => parts.title?.text)

describe('a heading that most pages of a site repeat', () => {
  const SITE = heading('The Tarn House')

  it('is no page’s title: there is none, or the heading with the words of the document’s own title', () => {
    const seen = [
      page('/', 'The Tarn House', [SITE]),
      page('/visit', 'Visit – The Tarn House', [SITE, heading('Visit', 2)]),
      page('/hours', 'Hours | The Tarn House', [SITE, heading('When we open', 2)]),
    ]
    expect(titles(seen)).to.deep.equal([undefined, 'Visit', undefined])
    expect(withoutRepeatedTitles(seen)[1]?.parts.title).to.deep.include({
      by: 'guess',
      selector: 'h2',
      presence: 'shown',
    })
  })

  it('is one where few pages have it, or where the site’s own locator finds it', () => {
    const two = [page('/a', 'A', [SITE]), page('/b', 'B', [SITE])]
    expect(titles(two)).to.deep.equal(['The Tarn House', 'The Tarn House'])
    const some = [
      ...two,
      page('/c', 'C', [heading('C')]),
      page('/d', 'D', [heading('D')]),
      page('/e', 'E', [heading('E')]),
    ]
    expect(titles(some)).to.deep.equal(['The Tarn House', 'The Tarn House', 'C', 'D', 'E'])
    const named = ['/a', '/b', '/c'].map((path) => page(path, 'A', [SITE], 'locator'))
    expect(titles(named)).to.deep.equal(['The Tarn House', 'The Tarn House', 'The Tarn House'])
  })

  it('counts pages, not the viewports at which they were seen', () => {
    const once = page('/a', 'A', [SITE])
    const seen = [once, { ...once, viewport: { name: 'phone', width: 390, height: 844 } }, once]
    expect(titles(seen)).to.deep.equal(['The Tarn House', 'The Tarn House', 'The Tarn House'])
  })

  it('is not looked for in what stands in the header, and leaves pages that failed as they are', () => {
    const failed: ObservationFailure = {
      ...{ wembra: 1, report: 'observation-failure', url: 'https://tarn.example/x' },
      ...{ viewport: null, code: 'too-slow', message: 'it did not come' },
    }
    const seen: (Observation | ObservationFailure)[] = [
      page('/a', 'Aurora – Tarn', [SITE, heading('Aurora', 2, 'header')]),
      page('/b', 'B – Tarn', [SITE]),
      page('/c', 'C – Tarn', [SITE]),
      failed,
    ]
    const settled = withoutRepeatedTitles(seen)
    expect(settled.map((each) => ('parts' in each ? each.parts.title?.text : each.code))).to.deep.equal([
      ...[undefined, undefined, undefined, 'too-slow'],
    ])
  })
})
