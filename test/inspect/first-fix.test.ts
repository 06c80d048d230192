import { expect } from 'chai'
import { inspect, viewRule, type HowMany, type Proposal, type Rule } from 'wembra'
import { NOW, siteOf } from '../support/site.js'

const WORDS = { summary: 'A page is wide.', matters: '-', holds: '-', example: 'theme: {}', advice: 'make it narrow' }

const IDS = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h']
const site = () =>
  siteOf(
    `theme: { layout: { width: { max: 900px } } }\npages: { ${IDS.map((id) => `${id}: { path: /${id}, title: ${id} }`).join(', ')} }`,
  )

const narrowAll: Proposal = {
  title: 'make all narrow',
  patch: [{ op: 'replace', path: '/theme/layout/width/max', value: '700px' }],
}
const narrow = (pages: readonly string[]): Proposal => ({
  title: 'make these narrow',
  patch: pages.map((id) => ({ op: 'add', path: `/pages/${id}/layout`, value: { width: { max: '700px' } } })),
})

/** Some pages are too wide, of which one finding is told. */
const tooWide = (ids: readonly string[], propose: (pages: readonly string[]) => readonly Proposal[]): Rule =>
  viewRule({
    ...{ ...WORDS, id: 'too-wide', severity: 'error', facet: 'width', numbers: [], message: () => '-' },
    propose: ({ pages }) => propose(pages),
    check({ page, measure }, report) {
      if (ids.includes(page.id) && (measure.box('container')?.width ?? 0) > 700) report({ at: '/theme', numbers: {} })
    },
  })

const fixesOf = (rules: readonly Rule[], fixes: HowMany) =>
  (inspect(site(), { now: NOW, rules, fixes }).find(({ rule }) => rule === 'too-wide')?.fixes ?? []).map(
    ({ title, pages, others }) => ({ title, pages, others: others ?? [] }),
  )

describe('the first fix that is certain', () => {
  const onThese = { title: 'make these narrow', pages: ['a', 'b'], others: [] }
  const onAll = { title: 'make all narrow', pages: ['a', 'b'], others: ['c', 'd', 'e', 'f', 'g', 'h'] }

  it('comes before fixes that change other pages', () => {
    const rule = tooWide(['a', 'b'], (pages) => [narrowAll, narrow(pages)])
    expect(fixesOf([rule], 'first')).to.deep.equal([onThese])
  })

  it('is followed by the others where every fix is asked for', () => {
    const rule = tooWide(['a', 'b'], (pages) => [narrowAll, narrow(pages)])
    expect(fixesOf([rule], 'all')).to.deep.equal([onThese, onAll])
  })

  it('is not there where all that helps changes other pages: that is proven then', () => {
    const rule = tooWide(['a', 'b'], () => [narrowAll])
    expect(fixesOf([rule], 'first')).to.deep.equal([onAll])
    expect(fixesOf([rule], 'certain')).to.deep.equal([])
  })

  it('is not a choice', () => {
    const choice: Proposal = {
      title: 'make all narrow, if you like',
      choice: true,
      patch: narrowAll.patch,
    }
    const rule = tooWide(['a', 'b'], (pages) => [choice, narrow(pages)])

    for (const howMany of ['first', 'certain'] as const)
      expect(fixesOf([rule], howMany), howMany).to.deep.equal([onThese])
    expect(fixesOf([rule], 'all').map(({ title }) => title)).to.include(choice.title)
    const chosenOnly = tooWide(['a', 'b'], () => [choice])
    expect(fixesOf([chosenOnly], 'first').map(({ title }) => title)).to.deep.equal([choice.title])
    expect(fixesOf([chosenOnly], 'certain')).to.deep.equal([])
  })

  it('leaves out the pages that it would harm', () => {
    const harmed = viewRule({
      ...{ ...WORDS, id: 'too-narrow', severity: 'error', facet: 'width', numbers: [], message: () => '-' },
      check({ page, measure }, report) {
        if (page.id === 'c' && measure.box('container')?.width === 700) report({ at: '/pages/c', numbers: {} })
      },
    })
    const rule = tooWide(['a', 'b', 'c'], narrowed)
    const parts = [{ title: 'page by page: make these narrow', pages: ['a', 'b'], others: [] }]
    for (const howMany of ['all', 'first', 'certain'] as const)
      expect(fixesOf([rule, harmed], howMany), howMany).to.deep.equal(parts)
  })
})

const narrowed = (pages: readonly string[]): readonly Proposal[] => [narrow(pages)]
