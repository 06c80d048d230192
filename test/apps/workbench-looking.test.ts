import { expect } from 'chai'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gone, there } from '../support/browser.js'
import { useWorkbench } from '../support/workbench.js'

const COVERED = encodeURIComponent('header-covers-content@/templates/event-view/layout/header/position')

describe('the workbench: looking', () => {
  const bench = useWorkbench()

  describe('all pages at once', () => {
    it('are previews of the pages as they look, with their conflicts, at any width', async () => {
      await bench.go('#/pages?kind=article&viewport=phone')
      await bench.shown('11 of 57 pages')
      const onPhone = bench.page.getByRole('listitem').first().locator('img')
      await there(onPhone)
      expect(await onPhone.evaluate((image: HTMLImageElement) => image.naturalWidth)).to.equal(390)
      await bench.go('#/pages')
      await bench.shown('57 pages')
      // Only what is in sight is in the document.
      expect(await bench.page.getByRole('listitem').count()).to.be.below(30)
      await bench.page.getByRole('searchbox', { name: 'Find' }).fill('telescopes')
      const card = bench.page.getByRole('listitem').filter({ hasText: 'Telescopes' })
      await there(card.getByText(/^\d+ conflicts?$/))
      const picture = card.locator('img')
      await there(picture)
      const [width, height] = await picture.evaluate((image: HTMLImageElement) => [
        image.naturalWidth,
        image.naturalHeight,
      ])
      expect([width, height]).to.deep.equal([1280, 800])
      await card.getByRole('link').click()
      await bench.arrived('Telescopes')
    })

    it('are grouped by template, kind, identical layout or conflict', async () => {
      await bench.go('#/pages?group=template')
      await there(bench.page.locator('.sheet-heading').first())
      expect(await bench.page.locator('.sheet-heading').first().textContent()).to.equal('Template none: 17 pages')
      await bench.page.getByRole('combobox', { name: 'Group by' }).selectOption('kind')
      await there(bench.page.locator('.sheet-heading', { hasText: /^Kind page: \d+ pages$/ }))
      await gone(bench.page.getByText('Looking at the pages'))
      await bench.page.getByRole('combobox', { name: 'Group by' }).selectOption('conflict')
      await there(bench.page.locator('.sheet-heading', { hasText: /^header-covers-content: 4 pages$/ }))
    })

    it('show which page differs from its kind', async () => {
      // Five pages of a kind show their title; the sixth does not, by an entry for its tag.
      const pages = ['a', 'b', 'c', 'd', 'e', 'f'].map(
        (id) => `  ${id}: { path: /${id}, title: Page ${id}${id === 'f' ? ', tags: [ bare ]' : ''} }`,
      )
      const file = join(mkdtempSync(join(tmpdir(), 'wembra-')), 'odd.site.yaml')
      const assign = 'assign: [ { layout: { title: absent }, where: [ { tag: bare } ] } ]'
      writeFileSync(file, `wembra: 1\nsite: { name: Odd }\ntheme: {}\n${assign}\npages:\n${pages.join('\n')}\n`)
      await bench.go('#/pages')
      await bench.pick([file])
      const odd = bench.page.getByRole('listitem').filter({ hasText: 'differs from its kind' })
      await there(odd)
      expect(await odd.locator('.card-title').allTextContents()).to.deep.equal(['Page f'])
    })

    it('are a table of what each gets', async () => {
      await bench.go('#/pages')
      await bench.page.getByText('Table', { exact: true }).click()
      const row = bench.page.getByRole('row').filter({ hasText: 'Planet walk' })
      expect((await row.getByRole('cell').allTextContents()).slice(1, 9)).to.deep.equal([
        ...['event', 'event-view', 'main-header, fixed', 'site-footer', 'shown', 'none', '1140', '32 / 72'],
      ])
      await bench.go('#/pages?as=table&template=article-view&group=layout')
      const name = /^Group 1: 4 pages with one layout; nearest to group 10, which differs in header\.use/
      await there(bench.page.getByRole('cell', { name }))
    })

    it('are filtered by words, by a selector, by kind, template and conflicts', async () => {
      const { page } = bench
      await bench.go('#/pages')
      const find = page.getByRole('searchbox', { name: 'Find' })
      await find.fill('star hopping')
      await bench.shown('1 of 57 pages')
      await find.fill('kind=article,tag=meteors')
      await bench.shown('2 of 57 pages')
      await find.fill('knd=article')
      await there(page.getByText('did you mean "kind="'))
      await find.fill('nothing like it')
      await there(page.getByText('No page matches. Remove a filter.'))
      await find.fill('')
      await page.getByRole('combobox', { name: 'Template' }).selectOption('campaign')
      await bench.shown('3 of 57 pages')
      await page.getByRole('combobox', { name: 'Template' }).selectOption('')
      await gone(page.getByText('Looking at the pages'))
      await page.getByRole('combobox', { name: 'Conflicts', exact: true }).selectOption('header-covers-content')
      await bench.shown('4 of 57 pages')
    })
  })

  describe('one page', () => {
    it('is seen as a visitor sees it, in true proportion, in a frame that runs nothing', async () => {
      await bench.go('#/page/visit')
      await there(bench.preview().getByText('Plan a visit'))
      const frame = bench.page.locator('.preview iframe')
      expect(await frame.getAttribute('sandbox')).to.equal('allow-same-origin')
      const [inner, outer] = await frame.evaluate((element: HTMLIFrameElement) => [
        element.contentWindow?.innerWidth ?? 0,
        element.getBoundingClientRect().width,
      ])
      expect(inner).to.equal(1280)
      expect(outer).to.be.within(500, 1280)
      // The band has its own ground, the logo its picture.
      const look = await bench
        .preview()
        .locator('[data-box="section:visit-hero"]')
        .evaluate((band) => getComputedStyle(band).backgroundImage)
      expect(look).to.match(/^linear-gradient/)
      // Beside it are the other viewports, one of which a click makes the large one.
      const others = bench.page.getByRole('group', { name: 'The page at other widths' })
      expect(await others.getByRole('button').allTextContents()).to.deep.equal(['tablet 768', 'phone 390'])
      await others.getByRole('button', { name: 'phone 390' }).click()
      await bench.page.waitForFunction(
        () => document.querySelector<HTMLIFrameElement>('.preview iframe')?.contentWindow?.innerWidth === 390,
      )
      expect(bench.page.url()).to.contain('viewport=phone')
    })

    it('keeps a sticky header in sight, and where it is scrolled to at every width that the handle is moved to', async () => {
      await bench.go('#/page/home?viewport=desk')
      await there(bench.preview().getByText('A dark sky above Quillmere'))
      const scrollTo = (top: number): Promise<void> =>
        bench.page.locator('.preview iframe').evaluate((element: HTMLIFrameElement, to) => {
          element.contentDocument?.documentElement.scrollTo(0, to)
        }, top)
      const header = bench.preview().locator('[data-box="header"]')
      await scrollTo(200)
      expect(await header.evaluate((element) => element.getBoundingClientRect().top)).to.equal(0)
      const scrolled = (): Promise<number> =>
        bench.page
          .locator('.preview iframe')
          .evaluate((element: HTMLIFrameElement) => element.contentDocument?.documentElement.scrollTop ?? -1)
      const slider = bench.page.getByRole('slider', { name: 'Width of the window' })
      await slider.focus()
      await bench.page.keyboard.press('Home')
      await there(bench.page.getByText('320 px', { exact: true }))
      await bench.page.waitForFunction(
        () => document.querySelector<HTMLIFrameElement>('.preview iframe')?.contentWindow?.innerWidth === 320,
      )
      await scrollTo(40)
      await bench.page.keyboard.press('ArrowRight')
      await there(bench.page.getByText('321 px', { exact: true }))
      expect(await scrolled()).to.equal(40)
      expect(bench.page.url()).to.contain('width=321')
    })

    it('has its boxes and measures laid over it on demand, and adds up where a box is and how wide it gets', async () => {
      await bench.go('#/page/moon-night')
      await bench.page.getByRole('switch', { name: 'Boxes and measures' }).click({ force: true })
      await there(bench.preview().getByText('header main-header, fixed · 1280 × 132'))
      await bench.page.getByText('Why a box is where it is').click()
      await bench.page.getByLabel('Box', { exact: true }).selectOption('footer')
      const steps = await bench.page.getByRole('table', { name: 'Ledger of footer' }).getByRole('row').allTextContents()
      const numbers = steps.map((step) => Number.parseFloat(step))
      expect(numbers.slice(0, -1).reduce((a, b) => a + b, 0)).to.be.closeTo(numbers.at(-1) ?? NaN, 0.2)
      await bench.page.getByLabel('Box', { exact: true }).selectOption('column')
      const wide = await bench.page.getByRole('table', { name: 'Width of column' }).getByRole('row').allTextContents()
      // 1280 − 2·24 = 1232, at most 1140.
      expect(wide.map((step) => Number.parseFloat(step.replace('−', '-')))).to.deep.equal([1280, -48, -92, 1140])
    })

    it('shows each conflict on itself, chosen by the arrow keys', async () => {
      await bench.go(`#/page/moon-night?finding=${COVERED}`)
      await there(bench.preview().getByText('122 px covered'))
      const list = bench.page.getByRole('list', { name: 'Conflicts, one of them shown on the preview' })
      const [first, second] = [list.locator('.conflict-button').nth(0), list.locator('.conflict-button').nth(1)]
      expect(await first.getAttribute('aria-expanded')).to.equal('true')
      await first.focus()
      await bench.page.keyboard.press('ArrowDown')
      expect(await second.getAttribute('aria-expanded')).to.equal('true')
      await gone(bench.preview().getByText('122 px covered'))
      expect(decodeURIComponent(bench.page.url())).to.contain('finding=item-prints-nothing')
    })

    it('has six facets in six rows, each leading to its settings, and is handed on as a page and as wireframes', async () => {
      await bench.go('#/page/moon-night')
      const table = bench.page.getByRole('table', { name: 'Facets in short' })
      const row = table.getByRole('row', { name: /^header/ })
      expect(await row.getByRole('cell').allTextContents()).to.deep.equal([
        ...['main-header, fixed', 'main-header, fixed', 'main-header, fixed', 'baseline'],
      ])
      const title = table.getByRole('row', { name: /^spacing/ })
      expect((await title.getByRole('cell').allTextContents()).at(-1)).to.equal('template overrides 1')
      await row.getByRole('button').click()
      await there(bench.page.getByRole('heading', { name: 'Settings of the header' }))
      expect(await bench.setting('spacing.before').count()).to.equal(0)
      const take = async (name: string) => {
        await bench.page.getByRole('button', { name: 'Download' }).click()
        return bench.saving(() => bench.page.getByRole('menuitem', { name }).click())
      }
      const html = await take('The page (HTML)')
      expect([html.name, html.text.slice(0, 15)]).to.deep.equal(['moon-night.html', '<!doctype html>'])
      expect((await take('Wireframes (SVG)')).text).to.match(/^<svg xmlns="http:\/\/www\.w3\.org\/2000\/svg"/)
      expect([...(await take('Wireframes (PNG)')).bytes.subarray(0, 4)]).to.deep.equal([0x89, 0x50, 0x4e, 0x47])
    })

    it('opens the chain of a setting, down to its line in the source', async () => {
      await bench.go('#/page/moon-night')
      const row = bench.setting('header.position')
      expect(await row.getByRole('cell').allTextContents()).to.deep.equal(['fixed', 'fixed', 'fixed', 'template'])
      await row.getByRole('button').click()
      // Lines are told by the worker, after the layers.
      await there(bench.page.locator('.chain').getByText('quillmere.site.yaml:107:33'))
      expect(await bench.page.locator('.chain li').allTextContents()).to.deep.equal([
        'winsfixedtemplate event-viewquillmere.site.yaml:133:17',
        'overriddenstickytheme optionsquillmere.site.yaml:107:33',
        'overriddenflowbuilt-in default',
      ])
      await bench.page.locator('.chain').getByRole('link', { name: 'quillmere.site.yaml:133:17' }).click()
      await bench.arrived('Source')
      await there(bench.page.locator('.cm-activeLine').filter({ hasText: 'position: fixed' }))
    })

    it('says when there is no such page', async () => {
      await bench.page.goto(`${bench.address}#/page/nowhere`)
      await there(bench.page.getByText('The site has no page “nowhere”.'))
      // What is no text as it is encoded names no page either.
      await bench.page.goto(`${bench.address}#/page/%E0%A4%A`)
      await there(bench.page.getByText('The site has no page “%E0%A4%A”.'))
    })
  })

  describe('all conflicts', () => {
    it('are listed beside a page with the place, by step of work or by page, and gone through by the arrow keys', async () => {
      await bench.go('#/findings')
      const where = bench.page.getByRole('region', { name: 'Where it is' })
      await there(bench.preview().getByText('122 px covered'))
      await where.getByLabel('Page of the preview').selectOption('planet-walk')
      await there(where.getByRole('link', { name: 'Planet walk' }))
      await bench.page.locator('.conflict-button').first().focus()
      await bench.page.keyboard.press('ArrowDown')
      await there(bench.page.locator('.finding.is-chosen').filter({ hasText: 'policy-broken' }))
      await there(bench.page.locator('.finding').first())
      expect(await bench.page.getByText(/^\d+ errors?, \d+ warnings?, \d+ notes?$/).count()).to.equal(1)
      await bench.page.getByText('By step of work').click()
      const steps = await bench.page.getByRole('heading', { level: 3 }).allTextContents()
      expect(steps.map((step) => step.replace(/ \d+$/, ''))).to.deep.equal([
        ...['Policies', 'Theme', 'Surrounds', 'Templates', 'Assignment', 'Page overrides', 'Content', 'Site'],
      ])
      await bench.page.getByText('By page', { exact: true }).click()
      const pages = bench.page.getByRole('list', { name: 'Pages with these conflicts' }).getByRole('listitem')
      expect(await pages.count()).to.be.above(40)
    })

    it('show which policies hold, and are handed on as a report', async () => {
      await bench.go('#/findings?severity=error')
      const policies = bench.page.getByRole('region', { name: 'Policies' }).getByRole('listitem')
      await there(bench.page.locator('.finding').first())
      expect(await policies.first().textContent()).to.match(/^broken.*\(.+\)$/)
      expect(await bench.page.locator('.finding').filter({ hasText: 'warning' }).count()).to.equal(0)
      await bench.page.getByRole('button', { name: /^Save/ }).click()
      const report = await bench.saving(() => bench.page.getByRole('menuitem', { name: /as a report/ }).click())
      expect(report.name).to.equal('findings.html')
      expect(report.text).to.contain('header-covers-content').and.contain('122 px covered'.replaceAll(' ', '%20'))
    })
  })

  describe('search', () => {
    it('goes from one field to pages, templates, settings, conflicts and files, by its shortcut', async () => {
      const { page } = bench
      await bench.go('#/pages')
      const search = page.getByRole('combobox', { name: /^Search/ }).or(page.getByRole('textbox', { name: /^Search/ }))
      const goTo = async (words: string): Promise<void> => {
        await page.keyboard.press('Control+k')
        await search.fill(words)
        await there(page.locator('.mantine-Autocomplete-option').first())
        await page.keyboard.press('ArrowDown')
        await page.keyboard.press('Enter')
      }
      await goTo('what dust')
      await there(page.getByRole('heading', { level: 2, name: 'Lecture: what dust is for' }))
      await goTo('campaign landing')
      await there(page.getByRole('region', { name: 'template campaign', exact: true }))
      await goTo('title.padding')
      await there(page.getByLabel('title.padding of theme'))
      await goTo('boxed-in')
      await bench.shown('2 of 57 pages')
      await goTo('custom.css')
      await there(page.getByRole('heading', { level: 2, name: 'Source' }))
    })
  })
})
