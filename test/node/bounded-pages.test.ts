import { expect } from 'chai'
import { FetchError, observeMarkup } from 'wembra/node'
import { fetched } from '../support/servers.js'

/** The headings that are seen on a page; or why it is not gone through. */
function seen(text: string): readonly string[] | string {
  try {
    return observeMarkup(fetched(text), {}).headings.map((heading) => heading.text)
  } catch (error) {
    if (!(error instanceof FetchError)) throw error
    expect(error.code).to.equal('too-large')
    return error.message
  }
}

const DEEP = 'the page cannot be gone through: its elements are nested more than 1000 deep'
const MANY = 'the page cannot be gone through: it has more than 50000 elements'

/** Pages that took minutes, or ended in a stack: each with what is said of it now. */
const PAGES: readonly (readonly [string, string, string])[] = [
  ['one tag of 60,000 words', '<title '.repeat(60_000), DEEP],
  ['titles that do not end', `${'<title>'.repeat(30_000)}<h1>A</h1>`, DEEP],
  ['styles that do not end', '<style>'.repeat(50_000), DEEP],
  ['scripts of data that do not end', '<script type="application/ld+json">{'.repeat(20_000), DEEP],
  ['200,000 elements within one another', '<div>'.repeat(200_000), DEEP],
  ['tables within one another', '<table><tr><td>'.repeat(10_000), DEEP],
  ['an attribute that does not end', '<a href="'.repeat(40_000), DEEP],
  ['the beginning of a page again and again', '<html '.repeat(40_000), DEEP],
  ['100,000 elements that name another', '<i aria-labelledby="a">x</i>'.repeat(100_000), MANY],
]

describe('pages that were made to take for ever', () => {
  for (const [what, text, said] of PAGES)
    it(`${what}: the page is told`, () => {
      expect(seen(text)).to.equal(said)
    })

  for (const [what, text] of [
    ['comments that do not end', '<h1>A</h1>' + '<!--'.repeat(100_000)],
    ['references that are none', '<h1>A</h1><p>' + '&amp'.repeat(50_000)],
    ['signs that begin no tag', '<h1>A</h1>' + '<'.repeat(50_000)],
    ['room before the page', ' '.repeat(500_000) + '<!doctype html><h1>A</h1>'],
    ['20,000 entries of a list whose ends are left out', '<h1>A</h1><ul>' + '<li>x'.repeat(20_000)],
    ['a picture of 300 KB in its tag', `<img alt="" src="data:image/png;base64,${'A'.repeat(300_000)}"><h1>A</h1>`],
    [
      '60,000 attributes in one tag',
      `<p ${Array.from({ length: 60_000 }, (_, n) => `a${n}=b`).join(' ')}>x</p><h1>A</h1>`,
    ],
    ['500 elements within one another', '<div>'.repeat(500) + '<h1>A</h1>'],
  ] as const)
    it(`${what}: the page is seen`, () => {
      expect(seen(text)).to.deep.equal(['A'])
    })

  it('a script, a style and a comment may hold what looks like tags, as many as they like', () => {
    const code = 'for(;i<n;i++)if(a<b)s+="<div>";'.repeat(3000)
    const text = `<title>T</title><script>${code}</script><style>${'a<b{}'.repeat(2000)}</style><!--${'<div>'.repeat(2000)}--><h1>A</h1>`
    expect(seen(text)).to.deep.equal(['A'])
  })

  it('a page without the tags that may be left out keeps head and body apart', () => {
    for (const text of [
      '<!doctype html><title>T</title><meta name=a><style>h1{}</style><script>"<p>"</script><h1>A</h1><p>x',
      '<html lang=en><title>T</title><h1>A</h1>',
      '<h1>A</h1>',
      '<title>T</title><noscript><p>none</p></noscript><template><h1>B</h1></template><h1>A</h1>',
    ])
      expect(seen(text), text).to.deep.equal(['A'])
  })
})
