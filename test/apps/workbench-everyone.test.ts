import { expect } from 'chai'
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { globSync } from 'tinyglobby'
import { gone, there, violations } from '../support/browser.js'
import { useWorkbench } from '../support/workbench.js'

const COVERED = encodeURIComponent('header-covers-content@/templates/event-view/layout/header/position')

/** The rule of axe that is about colors. */
const COLORS = 'color-contrast'

/** Every screen, as it is with something open. */
const SCREENS = [
  '#/pages',
  '#/pages?group=layout',
  '#/pages?as=table',
  `#/page/lecture-dust?finding=${COVERED}`,
  '#/findings',
  '#/findings?by=step',
  '#/findings?by=page',
  '#/layers?step=theme',
  '#/layers?step=surrounds&open=night-header',
  '#/layers?step=templates&open=campaign',
  '#/layers?step=assignment',
  '#/layers?step=overrides&open=visit',
  '#/layers?step=content',
  '#/source',
]

describe('the workbench as it is built', () => {
  it('has the styles of each component that is in it', () => {
    const built = (ending: string): string =>
      globSync(`examples/workbench/dist/assets/*${ending}`, { expandDirectories: false })
        .map((file) => readFileSync(file, 'utf8'))
        .join('\n')
    const classes = (text: string): readonly string[] => [...new Set(text.match(/\bm_[0-9a-z]{5,}\b/g))]
    const every = readFileSync(createRequire(import.meta.url).resolve('@mantine/core/styles.css'), 'utf8')
    const scripts = new Set(classes(built('.js')))
    const used = classes(every).filter((name) => scripts.has(name))
    expect(used.length).to.be.greaterThan(100)
    expect(classes(built('.css'))).to.include.members(used)
  })
})

describe('the workbench: for everyone', () => {
  const bench = useWorkbench()
  /** Until the rules are through and the pictures in sight are drawn: titles stand below them. */
  const settled = async (): Promise<void> => {
    await gone(bench.page.getByText('Going through the pages'))
    await bench.page.waitForFunction(() => {
      const inSight = [...document.querySelectorAll('.card')].filter((card) => {
        const { top, bottom } = card.getBoundingClientRect()
        return bottom > 0 && top < innerHeight
      })
      return inSight.every((card) => card.querySelector('img')?.complete)
    })
  }

  it('is worked by keyboard, with the focus seen', async () => {
    await bench.go('#/page/rota')
    const button = bench.page.locator('.chain-button').filter({ hasText: 'footer.use' })
    await button.focus()
    await bench.page.keyboard.press('Enter')
    expect(await button.getAttribute('aria-expanded')).to.equal('true')
    expect(await button.evaluate((element) => getComputedStyle(element).outlineStyle)).to.equal('solid')
  })

  /** What sticks out of the window to the right, and what the app's head covers, in px. */
  const misfit = (): Promise<{ readonly over: number; readonly covered: number }> =>
    bench.page.evaluate(() => {
      const head = document.querySelector('.app-head')?.getBoundingClientRect()
      const main = document.querySelector('.app-main')?.getBoundingClientRect()
      return {
        over: document.documentElement.scrollWidth - innerWidth,
        covered: (head?.bottom ?? 0) - (main?.top ?? 0),
      }
    })

  /** By all rules wide and in light colors; in the dark only colors differ, and narrow they do not. */
  const fitsEverybody = async (what: string): Promise<void> => {
    const holds = async (how: string, rules: Parameters<typeof violations>[1]): Promise<void> => {
      await settled()
      expect(await violations(bench.page, rules), `${what}, ${how}`).to.deep.equal([])
    }
    await holds('light', {})
    await bench.page.emulateMedia({ colorScheme: 'dark' })
    await holds('dark', { only: [COLORS] })
    await bench.page.emulateMedia({ colorScheme: 'light' })
    for (const width of [360, 900]) {
      await bench.page.setViewportSize({ width, height: 800 })
      if (width === 360) await holds('narrow', { but: [COLORS] })
      const { over, covered } = await misfit()
      expect(over, `${what} at ${width}`).to.be.at.most(0)
      expect(covered, `${what} at ${width}`).to.be.at.most(0.5)
    }
    await bench.page.setViewportSize({ width: 1280, height: 800 })
  }

  it('has no accessibility violation that axe finds on any screen, light or dark, and fits windows down to 360 px', async () => {
    for (const route of SCREENS) {
      await bench.go(route)
      await fitsEverybody(route)
    }
    await bench.go('#/page/lecture-dust')
    await bench.planSetting('spacing.before', '10px')
    await there(bench.dialog().locator('figure img').first())
    await fitsEverybody('the dialog')
  })

  it('moves nothing where a visitor wants no motion, however short', async () => {
    await bench.go('#/layers?step=templates&open=campaign')
    await there(bench.page.locator('.tick').first())
    await bench.page.emulateMedia({ colorScheme: 'dark' })
    // Colors of every element change: each would be a transition if all had a duration.
    expect(await bench.page.evaluate(() => document.getAnimations().length)).to.equal(0)
  })

  it('shows a hostile site: nothing in it runs, and nothing is fetched', async () => {
    const evil = `<img src=x onerror="window.hit=1"><script>window.hit=1</script><svg onload="window.hit=1">`
    const page = '"><img src=x onerror=window.hit=1>'
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
        [page]: {
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
    const file = join(mkdtempSync(join(tmpdir(), 'wembra-')), 'evil.site.json')
    writeFileSync(file, JSON.stringify(site))
    await bench.go('#/pages')
    await bench.pick([file])
    await there(bench.page.getByRole('heading', { level: 1, name: '<img' }))
    // The tags of the page's title are its words, on the card, in the preview and in the picture.
    await there(bench.page.locator('.card img'))
    for (const route of ['#/findings', '#/layers?step=templates', '#/layers?step=content', '#/source'])
      await bench.go(route)
    await bench.go(`#/page/${encodeURIComponent(page)}?viewport=desk`)
    await there(bench.preview().getByText('<img src=x').first())
    expect(await bench.preview().locator('img, script, svg, link').count()).to.equal(0)
    // What was asked for before this answer came is in the list by now.
    await bench.page.evaluate(() => fetch(location.pathname).then((answer) => answer.text()))
    expect(await bench.page.evaluate(() => 'hit' in window)).to.equal(false)
    const elsewhere = bench.requests.filter((url) => !url.startsWith(bench.address) && !/^(data|blob|about):/.test(url))
    expect(elsewhere).to.deep.equal([])
    const policy = await bench.page.evaluate(() =>
      document.querySelector('meta[http-equiv="Content-Security-Policy"]')?.getAttribute('content'),
    )
    expect(policy).to.contain("script-src 'self'").and.contain("default-src 'self'")
  })
})
