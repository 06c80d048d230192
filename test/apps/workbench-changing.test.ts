import { expect } from 'chai'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gone, there } from '../support/browser.js'
import { untilKept, useWorkbench } from '../support/workbench.js'

const TAIL = 'quillmere.site.yaml'
const FIXED = encodeURIComponent('header-covers-content@/templates/event-view/layout/header/position')

describe('the workbench: changing', () => {
  const bench = useWorkbench()
  const apply = async (): Promise<void> => {
    await bench.dialog().getByRole('button', { name: 'Apply' }).click()
    await gone(bench.dialog())
  }
  const applied = async (path: string, value: string, layer?: string): Promise<void> => {
    await bench.planSetting(path, value, layer)
    await apply()
  }
  const first = (path: string): Promise<string | null> => bench.setting(path).getByRole('cell').first().textContent()

  describe('a change', () => {
    it('shows its reach, and each page before and after, at any viewport, that which is looked at first', async () => {
      await bench.go('#/page/solstice')
      await bench.planSetting('spacing.before', '80px', 'templates.event-view')
      const dialog = bench.dialog()
      const pair = dialog.getByRole('region', { name: 'Before and after' })
      // The page that is looked at comes first, the others once they are known.
      await there(pair.getByRole('img', { name: 'solstice after' }))
      const shownPage = pair.getByLabel('Page of the preview')
      expect(await shownPage.inputValue()).to.equal('solstice')
      await there(dialog.getByText('6 pages get other facets.'))
      await there(dialog.getByText('spacing.before 32 → 80').first())
      await pair.locator('option', { hasText: 'moon-night' }).waitFor({ state: 'attached' })
      expect(await shownPage.inputValue()).to.equal('solstice')
      await shownPage.selectOption('moon-night')
      const [before, after] = [
        pair.getByRole('img', { name: 'moon-night before' }),
        pair.getByRole('img', { name: 'moon-night after' }),
      ]
      await there(before)
      await there(after)
      expect(await before.getAttribute('src')).to.not.equal(await after.getAttribute('src'))
      await shownPage.selectOption('solstice')
      await pair.getByLabel('Viewport of the preview').selectOption('phone')
      const phone = pair.getByRole('img', { name: 'solstice after' })
      await there(phone)
      expect(await phone.evaluate((image: HTMLImageElement) => image.naturalWidth)).to.equal(390)
      await pair.getByRole('slider').focus()
      await bench.page.keyboard.press('Home')
      expect(
        await pair
          .locator('figure')
          .nth(1)
          .evaluate((figure) => figure.style.clipPath),
      ).to.equal('inset(0px 0px 0px 0%)')
      await there(dialog.locator('.text-diff').filter({ hasText: '+      spacing: { before: 80px }' }))
    })

    it('is seen while it is written, and changes nothing before it is made', async () => {
      await bench.go('#/page/moon-night')
      await bench.page.locator('.chain-button').filter({ hasText: 'spacing.before' }).click()
      await bench.page.getByLabel('Set at').selectOption('templates.event-view')
      // The words begin below the spacing: 32 px of it are said, and any more moves them as far.
      const words = bench.trial().getByText('Craters along the terminator')
      const top = (): Promise<number> => words.evaluate((element) => element.getBoundingClientRect().top)
      const before = await top()
      const value = bench.page.getByLabel('Value of spacing.before')
      await value.pressSequentially('91')
      await bench.until(async () => expect(await top()).to.be.closeTo(before + 59, 0.5))
      // What is no value yet leaves the page as it was shown last.
      await value.pressSequentially('p')
      await value.pressSequentially('x')
      await bench.until(async () => expect(await top()).to.be.closeTo(before + 59, 0.5))
      expect(await first('spacing.before')).to.equal('32')
      await value.fill('')
      await bench.until(async () => expect(await top()).to.be.closeTo(before, 0.5))
    })

    it('is applied, undone and made again, and seen on the preview at once', async () => {
      await bench.go('#/page/visit')
      const hero = bench.preview().locator('[data-box="section:visit-hero"]')
      await there(hero)
      const holds = async (value: string, top: number): Promise<void> => {
        expect(await first('spacing.before')).to.equal(value)
        expect(await hero.evaluate((band) => band.getBoundingClientRect().top)).to.equal(top)
      }
      await holds('0', 132)
      // The page is changed within its document: its font is not read again.
      const style = bench.preview().locator('head [data-font]')
      await style.evaluate((element) => element.setAttribute('data-same', ''))
      await applied('spacing.before', '50px', 'pages.visit')
      await holds('50', 182)
      expect(await style.getAttribute('data-same')).to.equal('')
      await bench.page.keyboard.press('Control+z')
      await holds('0', 132)
      await bench.page.getByRole('button', { name: /^Redo/ }).click()
      await holds('50', 182)
    })

    it('outlives a reload', async () => {
      await bench.go('#/page/moon-night')
      await applied('spacing.before', '80px')
      await untilKept(bench.page, 'spacing: { before: 80px }')
      await bench.page.reload()
      await there(bench.setting('spacing.before'))
      expect(await first('spacing.before')).to.equal('80')
    })

    it('outlives a reload that follows at once', async () => {
      await bench.go('#/page/moon-night')
      await applied('spacing.before', '80px')
      await bench.page.reload()
      await there(bench.setting('spacing.before'))
      expect(await first('spacing.before')).to.equal('80')
    })

    it('is saved as the changed file with its comments, and as a JSON Patch', async () => {
      await bench.go('#/page/moon-night')
      await applied('spacing.before', '80px', 'templates.event-view')
      const save = async (name: string) => {
        await bench.page.getByRole('button', { name: /^Save/ }).click()
        return bench.saving(() => bench.page.getByRole('menuitem', { name }).click())
      }
      const file = await save('Changed files (1)')
      const before = readFileSync('examples/quillmere/quillmere.site.yaml', 'utf8')
      expect([file.name, file.text]).to.deep.equal([
        TAIL,
        before.replace('spacing: { before: 32px }', 'spacing: { before: 80px }'),
      ])
      expect(JSON.parse((await save('The changes as a JSON Patch')).text)).to.deep.equal([
        { op: 'replace', path: '/templates/event-view/layout/spacing/before', value: '80px' },
      ])
    })

    it('that cannot be made says why and leaves all as it is; one is made at any layer that decides for the page', async () => {
      await bench.go('#/page/getting-here')
      const before = await first('spacing.before')
      await bench.planSetting('spacing.before', 'wide')
      await there(bench.dialog().getByRole('alert').getByText('is not a CSS length'))
      expect(await bench.dialog().getByRole('button', { name: 'Apply' }).isDisabled()).to.equal(true)
      await bench.page.keyboard.press('Escape')
      await gone(bench.dialog())
      expect(await first('spacing.before')).to.equal(before)
      await bench.page.getByRole('button', { name: /sidebar\.side/ }).click()
      await there(bench.page.getByLabel('Value of sidebar.side'))
      const layers = await bench.page.getByLabel('Set at').last().locator('option').allTextContents()
      expect(layers).to.deep.equal(['this page', 'assign entry 6', 'kind page', 'theme options'])
      await bench.page.getByLabel('Set at').selectOption('assign.5')
      await bench.page.getByLabel('Value of sidebar.side').fill('left')
      await bench.page.getByRole('button', { name: 'Preview the change' }).click()
      await there(bench.dialog().getByText(/^\d pages get other facets\./))
      await there(
        bench
          .dialog()
          .locator('.text-diff')
          .filter({ hasText: '+  - { layout: { sidebar: { side: left, use: visit-rail } }' }),
      )
    })

    it('is found by what a page should have', async () => {
      await bench.go('#/page/visit')
      const ways = bench.page.getByRole('region', { name: 'Give this page a layout' })
      await ways.getByLabel('Property').selectOption('header.use')
      await ways.getByLabel('Value').fill('bare-header')
      await ways.getByRole('button', { name: 'Find ways' }).click()
      const way = ways.getByRole('listitem').first()
      await there(way)
      expect(await way.textContent())
        .to.contain('set it on the page visit')
        .and.contain('no other page changes')
      await way.getByRole('button', { name: 'Look at it' }).click()
      await there(bench.dialog().getByText('1 page gets other facets.'))
      await apply()
      expect(await first('header.use')).to.equal('bare-header')
    })

    it('is a fix, with its proof', async () => {
      await bench.go(`#/page/lecture-dust?finding=${FIXED}`)
      const finding = bench.page.locator('.finding').filter({ hasText: 'header-covers-content' })
      await finding
        .getByRole('button', { name: /^Fix: set header.clearance/ })
        .first()
        .click()
      await there(bench.dialog().getByText('Tested before it is offered'))
      await there(bench.dialog().getByText(/Conflicts: 0 new, [1-9]\d* gone/))
      await apply()
      await gone(finding)
    })
  })

  describe('the layers, in the order of the work', () => {
    it('the theme: settings in fields of their kind, with the pages they reach', async () => {
      await bench.go('#/layers')
      await there(bench.page.getByText('Reaches all 57 pages'))
      const position = bench.page.getByLabel('header.position of theme')
      expect(await position.locator('option').allTextContents()).to.deep.equal(['flow', 'sticky', 'fixed', 'overlay'])
      await position.selectOption('flow')
      await bench.page
        .locator('form.setting')
        .filter({ hasText: 'header.position' })
        .first()
        .getByRole('button', { name: 'Preview' })
        .click()
      await there(bench.dialog().getByText(/^\d+ pages get other facets\./))
      await apply()
      expect(await position.inputValue()).to.equal('flow')
      await bench.page.getByRole('button', { name: 'Remove header.position from theme' }).click()
      await there(bench.dialog().getByText('theme: without header.position'))
    })

    it('each setting has the pages on which it wins beside it, as the command line says them, and one more is added', async () => {
      await bench.go('#/layers?step=theme')
      const row = (name: string) =>
        bench.page.locator('.setting').filter({ has: bench.page.getByText(name, { exact: true }) })
      // `wembra table --columns header.use` has 44 lines with main-header.
      await there(row('header.use').getByText('44 pages, 13 overridden'))
      await there(row('title.place').getByText('57 pages', { exact: true }))
      await bench.page
        .getByRole('region', { name: 'Theme', exact: true })
        .getByLabel('Add a setting')
        .selectOption('title.padding')
      await bench.page.getByLabel('title.padding of theme').fill('20px 0')
      await bench.page.keyboard.press('Enter')
      await there(bench.dialog().getByText('theme: title.padding 20px 0'))
    })

    it('surrounds: what each prints, a page with it, who gets it; its fields, those of its rows and of what they print', async () => {
      await bench.go('#/layers?step=surrounds&open=night-header')
      const header = bench.page.getByRole('region', { name: 'surround night-header' })
      await there(header.getByRole('link', { name: /a page with night-header$/ }).locator('img'))
      expect(await header.textContent())
        .to.contain('copy ofmain-header')
        .and.contain('row bar')
      await there(header.getByRole('link', { name: 'perseids', exact: true }))
      await bench.go('#/layers?step=surrounds&open=small-footer')
      const footer = bench.page.getByRole('group', { name: 'small-footer', exact: true })
      expect(await footer.getByLabel('as of small-footer').inputValue()).to.equal('footer')
      const padding = footer.getByLabel('padding of row line')
      await padding.fill('40px 24px')
      await bench.page.keyboard.press('Enter')
      await there(bench.dialog().getByText('row line: padding 40px 24px'))
      await apply()
      expect(await padding.inputValue()).to.equal('40px 24px')
      await footer.getByLabel('Add to item rights').selectOption('ink')
      await footer.getByLabel('ink of item rights').fill('white')
      await bench.page.keyboard.press('Enter')
      await there(bench.dialog().getByText('item rights: ink white'))
    })

    it('templates: who gets one, for whom it is assigned but overridden, and what could be set once', async () => {
      await bench.go('#/layers?step=templates')
      const row = bench.page.getByRole('region', { name: 'template stave-wide' })
      await row.getByRole('button', { name: /^stave-wide/ }).click()
      expect(await row.textContent()).to.contain('7 pages, 8 overridden')
      await there(row.getByText('Overridden, builder stave would give it to: '))
      const section = bench.page.getByRole('region', { name: 'Settings that could be set once' })
      await section.getByRole('button').click()
      await section.getByRole('button', { name: /fewer\)$/ }).click()
      await there(bench.dialog().getByText('No page gets other facets.'))
    })

    it('a template is copied and the copy reduced in three steps', async () => {
      await bench.go('#/layers?step=templates&open=story')
      const story = bench.page.getByRole('region', { name: 'template story', exact: true })
      await story.getByLabel('Name of a copy of story').fill('short-read')
      await story.getByRole('button', { name: 'Preview the copy' }).click()
      // What the change does comes bit by bit, and the buttons stay where they are.
      const placeOfButtons = async () => (await bench.dialog().locator('.dialog-foot').boundingBox())?.y
      const first = await placeOfButtons()
      await there(bench.dialog().getByText('No page gets other facets.'))
      await there(bench.dialog().getByText('Conflicts:'))
      expect(await placeOfButtons()).to.equal(first)
      await apply()
      await bench.page
        .getByRole('region', { name: 'template short-read' })
        .getByRole('button', { name: /^short-read/ })
        .click()
      await bench.page.getByRole('button', { name: 'Remove width.padding from templates.short-read' }).click()
      await apply()
      const copy = bench.page.getByRole('region', { name: 'template short-read' })
      await there(copy.getByText('Nothing is set here.'))
    })

    it('assignment, overrides and content, each with its pages', async () => {
      await bench.go('#/layers?step=assignment')
      const entries = bench.page.getByRole('list', { name: 'Entries' }).getByRole('listitem')
      await bench.until(async () =>
        expect(await entries.nth(3).textContent()).to.match(
          /^4\. surround bare-headerfor kind article and tag beginnersquillmere\.site\.yaml:190.*3 pages: leonids star-hopping red-torch/,
        ),
      )
      const settings = entries.filter({ hasText: '6. sidebar.side, sidebar.use' })
      await settings.getByRole('button', { name: 'Change' }).click()
      await there(settings.getByLabel('sidebar.use of assign.5'))
      await bench.page.getByText('5 Page overrides').click()
      const visit = bench.page
        .getByRole('list', { name: 'Pages with overrides' })
        .getByRole('listitem')
        .filter({ hasText: 'Accessibility' })
      expect(await visit.textContent()).to.contain('sidebar.side')
      await visit.getByRole('button', { name: 'Change' }).click()
      await there(bench.page.getByLabel('sidebar.side of pages.accessibility'))
      await bench.page.getByText('6 Content').click()
      const content = bench.page.getByRole('list', { name: 'Pages with content' }).getByRole('listitem')
      expect(await content.filter({ hasText: 'Plan a visit' }).textContent()).to.contain('visit-hero (full)')
    })
  })

  describe('long lists', () => {
    it('are shown some rows at a time', async () => {
      const pages = Array.from(
        { length: 120 },
        (_, n) => `  p${n}: { path: /p${n}, title: P${n}, layout: { title: hidden } }`,
      )
      const file = join(mkdtempSync(join(tmpdir(), 'wembra-')), 'long.site.yaml')
      writeFileSync(file, `wembra: 1\nsite: { name: Long }\ntheme: {}\npages:\n${pages.join('\n')}\n`)
      await bench.go('#/pages')
      await bench.pick([file])
      await bench.shown('120 pages')
      await bench.page.goto(`${bench.address}#/layers?step=overrides`)
      const rows = bench.page.getByRole('list', { name: 'Pages with overrides' }).getByRole('listitem')
      await bench.page.getByRole('button', { name: 'Show 50 more of 70 left' }).click()
      await bench.page.getByRole('button', { name: 'Show 20 more of 20 left' }).click()
      await bench.until(async () => expect(await rows.count()).to.equal(120))
      expect(await bench.page.getByRole('button', { name: /^Show / }).count()).to.equal(0)
    })
  })

  describe('the source', () => {
    it('marks conflicts on their lines, and problems as they are typed', async () => {
      const { page } = bench
      await bench.go('#/source/quillmere.site.yaml?line=134')
      await there(page.locator('.cm-lint-marker-error').first())
      await page.locator('.cm-line').filter({ hasText: 'spacing: { before: 32px }' }).click()
      await page.keyboard.press('End')
      await page.keyboard.press('ArrowLeft')
      await page.keyboard.press('ArrowLeft')
      for (let n = 0; n < 4; n++) await page.keyboard.press('Backspace')
      await page.keyboard.type('5pz')
      await there(page.getByRole('alert').getByText('is not a CSS length'))
      expect(await page.getByRole('alert').textContent()).to.contain('quillmere.site.yaml:134:')
      await page.keyboard.press('Backspace')
      await page.keyboard.type('x')
      await gone(page.getByRole('alert'))
      await bench.go('#/pages?as=table')
      const row = page.getByRole('row').filter({ hasText: 'Planet walk' })
      expect(await row.textContent()).to.contain('5 / 72')
      // On a slow machine the typing is read in more than one step.
      const undo = page.getByRole('button', { name: 'Undo: edit quillmere.site.yaml' })
      while (await undo.isVisible()) await undo.click()
      expect(await row.textContent()).to.contain('32 / 72')
    })

    it('leads from a mark to what can be done, tells what a setting does under the pointer, and offers what could be written', async () => {
      const { page } = bench
      await bench.go('#/source/quillmere.site.yaml?line=133')
      await page.locator('.cm-lint-marker-error').first().hover()
      await page.getByRole('button', { name: 'What can be done' }).first().click()
      await bench.arrived('Conflicts')
      await bench.go('#/source/quillmere.site.yaml?line=107')
      const line = page.locator('.cm-line').filter({ hasText: 'use: main-header, position: sticky' })
      await line.hover({ position: { x: 150, y: 8 } })
      await there(page.locator('.source-hover').getByText('header.use'))
      expect(await page.locator('.source-hover li').first().textContent()).to.match(/^wins on 44 pages: moon-night, /)
      await page.mouse.move(0, 0)
      await page.locator('.cm-line').filter({ hasText: 'header: { position: fixed }' }).click()
      await page.keyboard.press('End')
      await page.keyboard.press('Enter')
      await page.keyboard.type('tit')
      await page.getByRole('option', { name: 'title', exact: true }).click()
      await there(page.locator('.cm-line').filter({ hasText: /^ +title: $/ }))
    })

    it('shows what was changed elsewhere', async () => {
      await bench.go('#/page/moon-night')
      await applied('title.presence', 'hidden')
      await bench.go('#/source/pages%2Fevents.yaml')
      await there(bench.page.locator('.cm-line').filter({ hasText: 'title: hidden' }))
      expect(await bench.page.getByLabel('File').locator('option:checked').textContent()).to.equal(
        'pages/events.yaml (changed)',
      )
    })
  })
})
