import { expect } from 'chai'
import { createServer, type ViteDevServer } from 'vite'
import { openPage, there, useBrowser } from '../support/browser.js'

describe('the example apps in a development server', () => {
  const browser = useBrowser()

  for (const [app, shown] of [
    ['embed', 'header'],
    ['workbench', 'Pages'],
  ] as const)
    it(`${app} starts, and nothing in it fails`, async () => {
      const server: ViteDevServer = await createServer({
        configFile: `examples/${app}/vite.config.ts`,
        logLevel: 'silent',
        cacheDir: `node_modules/.vite-${app}`,
        server: { port: 0 },
      })
      await server.listen()
      try {
        const { page, errors } = await openPage(browser(), server.resolvedUrls?.local[0] ?? '')
        await there(page.getByText(shown).first())
        expect(errors).to.deep.equal([])
        await page.close()
      } finally {
        await server.close()
      }
    })
})
