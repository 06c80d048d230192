import { expect } from 'chai'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Browser, Download, Page } from 'playwright-core'
import { serveWorkbench } from '../../scripts/workbench.js'
import { openBrowser, openPage, violations } from '../support/browser.js'

const TAIL = 'quillmere.site.yaml'

describe('the workbench', function () {
  this.timeout(90_000)
  let browser: Browser
  let served: Awaited<ReturnType<typeof serveWorkbench>>
  let page: Page
  let errors: string[]

  before(async () => {
    served = await serveWorkbench()
    browser = await openBrowser()
    ;({ page, errors } = await openPage(browser, served.address))
    page.setDefaultTimeout(12_000)
  })
  afterEach(() => expect(errors).to.deep.equal([]))
  after(async () => {
    await browser.close()
    await served.close()
  })

  const go = async (route: string): Promise<void> => {
    await page.goto(served.address + route)
    await page.locator('main h2').waitFor()
  }
  /** The demo site as it was built in, with nothing changed. */
  const fresh = async (route: string): Promise<void> => {
    await page.getByRole('button', { name: 'Open', exact: true }).click()
    await page.getByRole('menuitem', { name: 'The demo site' }).click()
    await go(route)
  }
  const heading = (): Promise<string | null> => page.locator('main h2').textContent()
  const shown = (text: string): Promise<void> =>
    page.getByRole('status', { name: 'Pages shown' }).getByText(text, { exact: true }).waitFor()
  const dialog = () => page.getByRole('dialog')
  const saving = async (act: () => Promise<void>): Promise<{ name: string; text: string }> => {
    const [download] = await Promise.all([page.waitForEvent('download'), act()])
    return { name: download.suggestedFilename(), text: await textOf(download) }
  }
  const textOf = async (download: Download): Promise<string> => readFileSync(await download.path(), 'utf8')

  describe('all pages at once', () => {
    before(() => go('#/pages'))

    it('is a table of what each gets', async () => {
      await shown('57 pages')
      const row = page.getByRole('row').filter({ hasText: 'Planet walk' })
      expect((await row.getByRole('cell').allTextContents()).slice(1, 9)).to.deep.equal([
        ...['event', 'event-view', 'main-header, fixed', 'site-footer', 'shown', 'none', '1140', '32 / 72'],
      ])
    })

    it('is filtered by words, by a selector, by kind, template and conflicts', async () => {
      const find = page.getByRole('searchbox', { name: 'Find' })
      await find.fill('star hopping')
      await shown('1 of 57 pages')
      await find.fill('kind=article,tag=meteors')
      await shown('2 of 57 pages')
      await find.fill('knd=article')
      await page.getByText('did you mean "kind="').waitFor()
      await find.fill('nothing like it')
      await page.getByText('No page matches. Remove a filter.').waitFor()
      await find.fill('')
      await page.getByLabel('Template').selectOption('campaign')
      await shown('3 of 57 pages')
      await page.getByLabel('Template').selectOption('')
      await page.getByRole('combobox', { name: 'Conflicts' }).selectOption('header-covers-content')
      await shown('4 of 57 pages')
      await page.getByRole('combobox', { name: 'Conflicts' }).selectOption('')
      await page.getByRole('combobox', { name: 'Kind' }).selectOption('product')
      await shown('4 of 57 pages')
    })

    it('keeps its filters in the address, at another width as well', async () => {
      await go('#/pages?kind=article&viewport=phone')
      await shown('11 of 57 pages')
      expect(await page.getByLabel('Viewport', { exact: true }).inputValue()).to.equal('phone')
    })

    it('puts those together that get the same', async () => {
      await go('#/pages?template=article-view')
      await page.getByRole('switch', { name: 'Group identical layouts' }).click({ force: true })
      const groups = await page
        .getByRole('cell')
        .filter({ hasText: /^Group / })
        .allTextContents()
      expect(groups[0]).to.match(/^Group 1: 4 pages alike; nearest to group 10, which differs in header\.use/)
    })

    it('leads to a page', async () => {
      await page.getByRole('link', { name: 'Star hopping' }).click()
      expect(await heading()).to.equal('Star hopping')
    })
  })

  describe('one page', () => {
    before(() => go('#/page/moon-night'))

    it('shows its facets, and opens the chain of one, down to its line in the source', async () => {
      const row = page.getByRole('row', { name: /header\.position/ })
      expect(await row.getByRole('cell').allTextContents()).to.deep.equal(['fixed', 'fixed', 'fixed', 'template'])
      await row.getByRole('button').click()
      expect(await page.locator('.chain li').allTextContents()).to.deep.equal([
        'winsfixedtemplate event-viewquillmere.site.yaml:133:17',
        'overriddenstickytheme optionsquillmere.site.yaml:107:33',
        'overriddenflowbuilt-in default',
      ])
      await page
        .locator('.chain')
        .getByRole('link', { name: `${TAIL}:133:17` })
        .click()
      expect(await heading()).to.equal('Source')
      await page.locator('.cm-activeLine').filter({ hasText: 'position: fixed' }).waitFor()
      await page.goBack()
    })

    it('is drawn at every viewport with its measures, or at one, or at any width that is dragged to', async () => {
      const drawing = page.getByRole('region', { name: 'Drawing' })
      const picture = drawing.getByRole('img')
      expect(await picture.getAttribute('aria-label')).to.equal(
        'Wireframe of the page moon-night at desk, tablet, phone',
      )
      expect(await picture.textContent()).to.contain('1280 × 132 at y 0, by template')
      await drawing.getByText('phone', { exact: true }).first().click()
      await drawing.getByRole('img', { name: 'Wireframe of the page moon-night at phone', exact: true }).waitFor()
      const slider = drawing.getByRole('slider', { name: 'Width of the window' })
      await slider.focus()
      for (let n = 0; n < 10; n++) await page.keyboard.press('ArrowRight')
      await drawing.getByText('400 px').waitFor()
      await page.waitForFunction(() => document.querySelector('.drawing')?.textContent?.includes('phone, 400 × 844'))
      expect(page.url()).to.contain('width=400')
      await page.keyboard.press('End')
      await page.waitForFunction(() => document.querySelector('.drawing')?.textContent?.includes('desk, 1920 × 800'))
    })

    it('leaves the measures away, and adds up where a box stands', async () => {
      const drawing = page.getByRole('region', { name: 'Drawing' })
      await drawing.getByText('desk', { exact: true }).first().click()
      await drawing.getByRole('switch', { name: 'Measures' }).click({ force: true })
      await page.waitForFunction(() => !document.querySelector('.drawing')?.textContent?.includes('at y'))
      await drawing.getByRole('switch', { name: 'Measures' }).click({ force: true })
      await drawing.locator('[data-box="footer"]').click()
      const ledger = drawing.getByRole('table', { name: 'Ledger of footer' })
      const steps = await ledger.getByRole('row').allTextContents()
      const numbers = steps.map((step) => Number.parseFloat(step))
      const [sum, ...rest] = [numbers.at(-1), ...numbers.slice(0, -1)]
      expect(rest.reduce((a, b) => a + b, 0)).to.equal(sum)
    })

    it('is previewed beside its drawing, in a frame that may do nothing', async () => {
      await page.getByRole('switch', { name: 'Preview' }).click({ force: true })
      const frame = page.locator('iframe')
      expect(await frame.getAttribute('sandbox')).to.equal('')
      await page.frameLocator('iframe').getByText('Moon night').first().waitFor()
      await page.getByRole('switch', { name: 'Preview' }).click({ force: true })
    })

    it('is handed on as a drawing, SVG and PNG', async () => {
      const svg = await saving(() => page.getByRole('button', { name: 'SVG' }).click())
      expect(svg.name).to.equal('moon-night.svg')
      expect(svg.text).to.match(/^<svg xmlns="http:\/\/www\.w3\.org\/2000\/svg"/)
      const [png] = await Promise.all([
        page.waitForEvent('download'),
        page.getByRole('button', { name: 'PNG' }).click(),
      ])
      const bytes = readFileSync(await png.path())
      expect([...bytes.subarray(0, 4)]).to.deep.equal([0x89, 0x50, 0x4e, 0x47])
      expect(bytes.length).to.be.above(5000)
    })

    it('is numbered on its drawing as in the list of conflicts', async () => {
      await go('#/page/lecture-dust')
      await page.getByText('header-covers-content').waitFor()
      const list = page.getByRole('region', { name: 'Conflicts on this page' }).getByRole('listitem')
      expect(await list.first().textContent()).to.match(/^1error?header-covers-content/)
      expect(await page.locator('.drawing svg').textContent()).to.contain('1')
    })

    it('opens at the viewport and finding that its address names, and says when there is no such page', async () => {
      await go('#/page/lecture-dust?viewport=tablet&finding=title-doubled%40%2Ftheme')
      await page.getByRole('img', { name: 'Wireframe of the page lecture-dust at tablet', exact: true }).waitFor()
      await page.locator('.finding').first().waitFor()
      expect(await page.locator('.finding').first().textContent()).to.contain('title-doubled')
      await page.goto(`${served.address}#/page/nowhere`)
      await page.getByText('The site has no page “nowhere”.').waitFor()
    })
  })

  describe('a change', () => {
    it('tells its reach and shows before and after, is made, undone and made again', async () => {
      await fresh('#/page/moon-night')
      await page.getByRole('button', { name: /spacing\.before/ }).click()
      await page.getByLabel('Set at').selectOption('templates.event-view')
      await page.getByLabel('Value of spacing.before').fill('80px')
      await page.getByRole('button', { name: 'Preview the change' }).click()
      await dialog().getByText('6 pages get other facets.').waitFor()
      await dialog().getByText('spacing.before 32 → 80').first().waitFor()
      expect(await dialog().locator('figure').count()).to.equal(2)
      expect(await dialog().locator('.text-diff').textContent()).to.contain('+      spacing: { before: 80px }')
      await dialog().getByRole('button', { name: 'Apply' }).click()
      const row = page.getByRole('row', { name: /spacing\.before/ })
      expect(await row.getByRole('cell').first().textContent()).to.equal('80')
      await page.keyboard.press('Control+z')
      expect(await row.getByRole('cell').first().textContent()).to.equal('32')
      await page.getByRole('button', { name: /^Redo/ }).click()
      expect(await row.getByRole('cell').first().textContent()).to.equal('80')
    })

    it('that cannot be made says why, and leaves all as it is', async () => {
      await page.getByLabel('Value of spacing.before').fill('wide')
      await page.getByRole('button', { name: 'Preview the change' }).click()
      await dialog().getByRole('alert').getByText('is not a CSS length').waitFor()
      expect(await dialog().getByRole('button', { name: 'Apply' }).isDisabled()).to.equal(true)
      await page.keyboard.press('Escape')
      await dialog().waitFor({ state: 'detached' })
    })

    it('outlives a reload', async () => {
      await page.waitForTimeout(400)
      await page.reload()
      const row = page.getByRole('row', { name: /spacing\.before/ })
      await row.waitFor()
      expect(await row.getByRole('cell').first().textContent()).to.equal('80')
    })

    it('is saved as the changed file with its comments, and as a JSON Patch', async () => {
      await page.getByRole('button', { name: /^Save/ }).click()
      const file = await saving(() => page.getByRole('menuitem', { name: 'Changed files (1)' }).click())
      const before = readFileSync('examples/quillmere/quillmere.site.yaml', 'utf8')
      expect(file).to.deep.equal({
        name: TAIL,
        text: before.replace('spacing: { before: 32px }', 'spacing: { before: 80px }'),
      })
      await page.getByRole('button', { name: /^Save/ }).click()
      const patch = await saving(() => page.getByRole('menuitem', { name: 'The changes as a JSON Patch' }).click())
      expect(JSON.parse(patch.text)).to.deep.equal([
        { op: 'replace', path: '/templates/event-view/layout/spacing/before', value: '80px' },
      ])
    })

    it('is said at any layer that speaks of the page', async () => {
      await fresh('#/page/getting-here')
      await page.getByRole('button', { name: /sidebar\.side/ }).click()
      const layers = await page.getByLabel('Set at').locator('option').allTextContents()
      expect(layers).to.deep.equal(['this page', 'assign entry 6', 'kind page', 'theme options'])
      await page.getByLabel('Set at').selectOption('assign.5')
      await page.getByLabel('Value of sidebar.side').fill('left')
      await page.getByRole('button', { name: 'Preview the change' }).click()
      await dialog()
        .getByText(/^\d pages get other facets\./)
        .waitFor()
      expect(await dialog().locator('.text-diff').textContent()).to.contain(
        '+  - { layout: { sidebar: { side: left, use: visit-rail } }',
      )
      await page.keyboard.press('Escape')
    })

    it('is found by what a page should have', async () => {
      await fresh('#/page/visit')
      const ways = page.getByRole('region', { name: 'Give this page a layout' })
      await ways.getByLabel('Property').selectOption('header.use')
      await ways.getByLabel('Value').fill('bare-header')
      await ways.getByRole('button', { name: 'Find ways' }).click()
      const first = ways.getByRole('listitem').first()
      await first.waitFor()
      expect(await first.textContent())
        .to.contain('set it on the page visit')
        .and.contain('no other page changes')
      await first.getByRole('button', { name: 'Look at it' }).click()
      await dialog().getByText('1 page gets other facets.').waitFor()
      await dialog().getByRole('button', { name: 'Apply' }).click()
      const row = page.getByRole('row', { name: /header\.use/ })
      expect(await row.getByRole('cell').first().textContent()).to.equal('bare-header')
    })

    it('is a fix, with one click and its proof', async () => {
      await fresh('#/page/lecture-dust')
      await page.getByText('Trying the fixes').waitFor({ state: 'detached' })
      const finding = page.locator('.finding').filter({ hasText: 'header-covers-content' })
      await finding
        .getByRole('button', { name: /^Fix: set header.clearance/ })
        .first()
        .click()
      await dialog().getByText('Tested before it is offered').waitFor()
      await dialog()
        .getByText(/Conflicts: 0 new, [1-9]\d* gone/)
        .waitFor()
      await dialog().getByRole('button', { name: 'Apply' }).click()
      await finding.waitFor({ state: 'detached' })
    })
  })

  describe('all conflicts', () => {
    before(() => fresh('#/findings'))

    it('stands by cause, by page and by step of work, and each leads to its pages', async () => {
      const finding = page.locator('.finding').filter({ hasText: 'header-covers-content' }).first()
      await finding.waitFor()
      expect(await page.getByText(/^\d+ errors?, \d+ warnings?, \d+ notes?$/).count()).to.equal(1)
      await page.getByText('By step of work').click()
      const steps = await page.getByRole('heading', { level: 3 }).allTextContents()
      expect(steps.map((step) => step.replace(/ \d+$/, ''))).to.deep.equal([
        ...['Policies', 'Theme', 'Surrounds', 'Templates', 'Assignment', 'Page overrides', 'Content', 'Site'],
      ])
      await page.getByText('By page', { exact: true }).click()
      const pages = page.getByRole('list', { name: 'Pages with these conflicts' }).getByRole('listitem')
      expect(await pages.count()).to.be.above(40)
      await page.getByText('By cause').click()
      await finding.getByRole('link', { name: 'planet-walk' }).click()
      expect(await heading()).to.equal('Planet walk')
      expect(await page.getByRole('region', { name: 'Conflicts on this page' }).textContent()).to.contain('covered')
    })

    it('shows which policies hold', async () => {
      await go('#/findings?severity=error')
      const policies = page.getByRole('region', { name: 'Policies' }).getByRole('listitem')
      await page.locator('.finding').first().waitFor()
      expect(await policies.allTextContents()).to.have.lengthOf(1)
      expect(await policies.first().textContent()).to.match(/^broken.*\(.+\)$/)
      expect(await page.locator('.finding').filter({ hasText: 'warning' }).count()).to.equal(0)
    })

    it('is handed on as a report', async () => {
      await page.getByRole('button', { name: /^Save/ }).click()
      const report = await saving(() => page.getByRole('menuitem', { name: /as a report/ }).click())
      expect(report.name).to.equal('findings.html')
      expect(report.text).to.contain('header-covers-content').and.not.contain('<script')
    })
  })

  describe('the map', () => {
    before(() => go('#/map'))

    it('tells who gets a template, and for whom it is assigned but overridden', async () => {
      const row = page.getByRole('region', { name: 'Templates' }).getByRole('button', { name: /^stave-wide/ })
      await row.click()
      expect(await row.textContent()).to.match(/^stave-wide7 pages, 8 overridden/)
      await page.getByText('lecture-dust, overridden: builder stave').waitFor()
    })

    it('finds what could be said once, and does it', async () => {
      const section = page.getByRole('region', { name: 'Settings that could be set once' })
      await section.getByRole('button').click()
      await section.getByRole('button', { name: /fewer\)$/ }).click()
      await dialog().getByText('No page gets other facets.').waitFor()
      await page.keyboard.press('Escape')
    })
  })

  describe('the source', () => {
    it('marks conflicts on their lines, and is what the site says', async () => {
      await fresh('#/source/quillmere.site.yaml?line=134')
      await page.locator('.cm-lint-marker-error').first().waitFor()
      const line = page.locator('.cm-line').filter({ hasText: 'spacing: { before: 32px }' })
      await line.click()
      await page.keyboard.press('End')
      await page.keyboard.press('ArrowLeft')
      await page.keyboard.press('ArrowLeft')
      for (let n = 0; n < 4; n++) await page.keyboard.press('Backspace')
      await page.keyboard.type('5pz')
      await page.getByRole('alert').getByText('is not a CSS length').waitFor()
      expect(await page.getByRole('alert').textContent()).to.contain('quillmere.site.yaml:134:')
      await page.keyboard.press('Backspace')
      await page.keyboard.type('x')
      await page.getByRole('alert').waitFor({ state: 'detached' })
      await page.getByRole('link', { name: 'Pages', exact: true }).click()
      const row = page.getByRole('row').filter({ hasText: 'Planet walk' })
      expect(await row.textContent()).to.contain('5 / 72')
      // On a slow machine the typing is read in more than one step.
      const undo = page.getByRole('button', { name: 'Undo: edit quillmere.site.yaml' })
      while (await undo.isVisible()) await undo.click()
      expect(await row.textContent()).to.contain('32 / 72')
    })

    it('shows what was changed elsewhere', async () => {
      await fresh('#/page/moon-night')
      await page.getByRole('button', { name: /title\.presence/ }).click()
      await page.getByLabel('Value of title.presence').fill('hidden')
      await page.getByRole('button', { name: 'Preview the change' }).click()
      await dialog().getByRole('button', { name: 'Apply' }).click()
      await go('#/source/pages%2Fevents.yaml')
      await page.locator('.cm-line').filter({ hasText: 'title: hidden' }).waitFor()
      expect(await page.getByLabel('File').locator('option:checked').textContent()).to.equal(
        'pages/events.yaml (changed)',
      )
    })
  })

  describe('opening', () => {
    const files = ['fellside.site.yaml', 'tokens.json'].map((name) => join('examples/fellside', name))

    it('takes files from this computer', async () => {
      await page.getByRole('button', { name: 'Open', exact: true }).click()
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        page.getByRole('menuitem', { name: 'Files from this computer…' }).click(),
      ])
      await chooser.setFiles(files)
      await page.getByRole('heading', { level: 1, name: 'Fellside Field Station' }).waitFor()
      await go('#/pages')
      await shown('5 pages')
    })

    it('saves back into files that were chosen for it, and never over what somebody else wrote', async () => {
      // The browser's own dialog cannot be driven; the handles are real ones, of the private file system of the page.
      // Said as text, for what compiles the tests puts helpers into functions that the page does not have.
      const inFile = (act: string): Promise<string> =>
        page.evaluate(`(async () => {
          const root = await navigator.storage.getDirectory()
          const handle = await root.getFileHandle('own.site.yaml', { create: true })
          const write = async (text) => {
            const stream = await handle.createWritable()
            await stream.write(text)
            await stream.close()
          }
          ${act}
        })()`)
      const stored = (): Promise<string> => inFile('return (await handle.getFile()).text()')
      const mine = 'wembra: 1 # mine\nsite: { name: Own }\ntheme: {}\npages: { a: { path: /, title: A } }\n'
      await inFile(`await write(${JSON.stringify(mine)}); window.showOpenFilePicker = async () => [handle]`)
      await page.getByRole('button', { name: 'Open', exact: true }).click()
      await page.getByRole('menuitem', { name: 'Files to edit in place…' }).click()
      await page.getByRole('heading', { level: 1, name: 'Own' }).waitFor()
      const change = async (value: string): Promise<void> => {
        await go('#/page/a')
        await page.locator('.chain-button').filter({ hasText: 'spacing.before' }).click()
        await page.getByLabel('Set at').selectOption('theme')
        await page.getByLabel('Value of spacing.before').fill(value)
        await page.getByRole('button', { name: 'Preview the change' }).click()
        await dialog().getByRole('button', { name: 'Apply' }).click()
        await page.getByRole('button', { name: /^Save/ }).click()
        await page.getByRole('menuitem', { name: 'Save to the files' }).click()
      }
      await change('7px')
      await page.getByText('Saved own.site.yaml.').waitFor()
      expect(await stored())
        .to.contain('before: 7px')
        .and.contain('wembra: 1 # mine')
      await inFile(`await write('theirs')`)
      await page.locator('.chain-button').filter({ hasText: 'spacing.before' }).click()
      await change('8px')
      await page.getByText('own.site.yaml was changed elsewhere in the meantime').waitFor()
      expect(await stored()).to.equal('theirs')
    })

    it('takes files that are dropped, and tells what is wrong with them', async () => {
      const drop = (name: string, text: string) =>
        page.evaluate(
          ([fileName, content]) => {
            const data = new DataTransfer()
            data.items.add(new File([content ?? ''], fileName ?? ''))
            dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }))
          },
          [name, text],
        )
      await drop('bad.site.yaml', 'wembra: 1\nsite: { name: Bad }\ntheme: { layot: {} }\npages: {}\n')
      await page.getByText('bad.site.yaml:3:10: unknown-key: unknown key "layot"; did you mean "layout"?').waitFor()
      await page.getByRole('button', { name: 'Back to the open site' }).click()
      await drop('one.site.yaml', 'wembra: 1\nsite: { name: One }\ntheme: {}\npages: { a: { path: /, title: A } }\n')
      await page.getByRole('heading', { level: 1, name: 'One' }).waitFor()
      await drop('notes.txt', 'no site')
      await page.getByText('None of notes.txt is a site file').waitFor()
      await page.getByRole('button', { name: 'Back to the open site' }).click()
      await fresh('#/pages')
    })
  })

  describe('for everyone', () => {
    it('is worked by keyboard, with the focus seen', async () => {
      await go('#/page/rota')
      const button = page.getByRole('button', { name: /footer\.use/ })
      await button.focus()
      await page.keyboard.press('Enter')
      expect(await button.getAttribute('aria-expanded')).to.equal('true')
      expect(await button.evaluate((element) => getComputedStyle(element).outlineStyle)).to.equal('solid')
      await page
        .getByRole('combobox', { name: 'Go to a page' })
        .or(page.getByRole('textbox', { name: 'Go to a page' }))
        .fill('what dust')
      await page.keyboard.press('ArrowDown')
      await page.keyboard.press('Enter')
      await page.getByRole('heading', { level: 2, name: 'Lecture: what dust is for' }).waitFor()
    })

    it('fits a narrow window', async () => {
      await page.setViewportSize({ width: 400, height: 800 })
      for (const route of ['#/pages', '#/findings', '#/map', '#/page/rota', '#/source']) {
        await go(route)
        const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth)
        expect(over, route).to.be.at.most(0)
      }
      await page.setViewportSize({ width: 1280, height: 800 })
    })

    for (const scheme of ['light', 'dark'] as const)
      it(`has no accessibility violation that axe finds on any screen, in ${scheme} colors`, async () => {
        await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' })
        await page.reload()
        for (const route of [
          '#/pages',
          '#/pages?group=layout',
          '#/findings',
          '#/findings?by=step',
          '#/map',
          '#/source',
          '#/page/lecture-dust',
        ]) {
          await go(route)
          if (route.startsWith('#/page/')) {
            await page.getByRole('button', { name: /clearance$/ }).click()
            await page.locator('.finding').first().waitFor()
          }
          if (route === '#/map') await page.getByRole('button', { name: /^stave-wide/ }).click()
          expect(await violations(page), `${route} in ${scheme}`).to.deep.equal([])
        }
        await page.getByLabel('Value of header.clearance').fill('10px')
        await page.getByRole('button', { name: 'Preview the change' }).click()
        await dialog().locator('figure').first().waitFor()
        expect(await violations(page), `the dialog in ${scheme}`).to.deep.equal([])
        await page.keyboard.press('Escape')
      })
  })

  describe('a hostile site', () => {
    it('is shown: nothing in it runs, and nothing is fetched', async () => {
      const asked: string[] = []
      page.on('request', (request) => asked.push(request.url()))
      const evil = `<img src=x onerror="window.hit=1"><script>window.hit=1</script><svg onload="window.hit=1">`
      const site = {
        wembra: 1,
        site: { name: evil, url: 'javascript:window.hit=1' },
        styles: [
          {
            css: `@import url(http://evil.example/a.css); body { background: url(http://evil.example/b.png) } </style><script>window.hit=1</script>`,
          },
        ],
        assets: { pic: { file: 'http://evil.example/c.png', width: 10, height: 10 } },
        theme: { layout: { header: { use: 'top' } } },
        surrounds: { top: { as: 'header', rows: [{ items: [{ logo: 'pic' }, { text: evil }] }] } },
        templates: { '"><script>window.hit=1</script>': { label: evil } },
        policies: [{ name: evil, where: [{ all: true }], require: { header: 'absent' } }],
        pages: {
          '"><img src=x onerror=window.hit=1>': {
            path: '/javascript:window.hit=1',
            title: evil,
            tags: [evil],
            body: [
              {
                section: 's',
                items: [
                  { text: evil },
                  { embed: 'http://evil.example/d' },
                  { button: evil, url: 'javascript:window.hit=1' },
                ],
              },
            ],
          },
        },
      }
      const folder = mkdtempSync(join(tmpdir(), 'wembra-'))
      const file = join(folder, 'evil.site.json')
      writeFileSync(file, JSON.stringify(site))
      await page.getByRole('button', { name: 'Open', exact: true }).click()
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        page.getByRole('menuitem', { name: 'Files from this computer…' }).click(),
      ])
      await chooser.setFiles([file])
      await page.getByRole('heading', { level: 1, name: '<img' }).waitFor()
      for (const route of [
        '#/pages',
        '#/findings',
        '#/map',
        '#/source',
        `#/page/${encodeURIComponent('"><img src=x onerror=window.hit=1>')}?viewport=desk`,
      ])
        await go(route)
      await page.getByRole('switch', { name: 'Preview' }).click({ force: true })
      await page.locator('iframe').waitFor()
      await page.waitForTimeout(500)
      expect(await page.evaluate(() => 'hit' in window)).to.equal(false)
      expect(asked.filter((url) => !url.startsWith(served.address) && !/^(data|blob):/.test(url))).to.deep.equal([])
      expect(
        await page.evaluate(() =>
          document.querySelector('meta[http-equiv="Content-Security-Policy"]')?.getAttribute('content'),
        ),
      )
        .to.contain("script-src 'self'")
        .and.contain("default-src 'self'")
      // What the frame's own policy refused is told on the console; that is how it should be.
      errors.splice(0)
    })
  })
})
