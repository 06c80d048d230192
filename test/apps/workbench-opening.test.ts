import { expect } from 'chai'
import { join } from 'node:path'
import { gone, there } from '../support/browser.js'
import { useWorkbench } from '../support/workbench.js'

describe('the workbench: opening', () => {
  const bench = useWorkbench()

  it('shows the first preview of the demo site soon after it is opened', async () => {
    await bench.page.goto('about:blank')
    await bench.go('#/pages')
    await there(bench.page.locator('.card img').first())
  })

  it('takes files from this computer', async () => {
    await bench.go('#/pages')
    await bench.pick(['fellside.site.yaml', 'tokens.json'].map((name) => join('examples/fellside', name)))
    await there(bench.page.getByRole('heading', { level: 1, name: 'Fellside Field Station' }))
    await bench.shown('5 pages')
  })

  it('saves back into files that were chosen for it, and never over what somebody else wrote', async () => {
    const { page } = bench
    await bench.go('#/pages')
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
    await there(page.getByRole('heading', { level: 1, name: 'Own' }))
    const change = async (value: string): Promise<void> => {
      await bench.go('#/page/a')
      await bench.planSetting('spacing.before', value, 'theme')
      await bench.dialog().getByRole('button', { name: 'Apply' }).click()
      await gone(bench.dialog())
      await page.getByRole('button', { name: /^Save/ }).click()
      await page.getByRole('menuitem', { name: 'Save to the files' }).click()
    }
    await change('7px')
    await there(page.getByText('Saved own.site.yaml.'))
    expect(await stored())
      .to.contain('before: 7px')
      .and.contain('wembra: 1 # mine')
    await inFile(`await write('theirs')`)
    await page.locator('.chain-button').filter({ hasText: 'spacing.before' }).click()
    await change('8px')
    await there(page.getByText('own.site.yaml was changed elsewhere in the meantime'))
    expect(await stored()).to.equal('theirs')
  })

  it('takes files that are dropped, and explains what is wrong with them', async () => {
    const { page } = bench
    await bench.go('#/pages')
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
    await there(page.getByText('bad.site.yaml:3:10: unknown-key: unknown key "layot"; did you mean "layout"?'))
    await page.getByRole('button', { name: 'Back to the open site' }).click()
    const one = 'wembra: 1\nsite: { name: One }\ntypography: { file: text.woff2 }\ntheme: {}\n'
    await drop(
      'one.site.yaml',
      `${one}pages: { a: { path: /, title: A, body: [ { section: s, items: [ { text: words } ] } ] } }\n`,
    )
    await there(page.getByRole('heading', { level: 1, name: 'One' }))
    await page.getByRole('link', { name: /^Conflicts/ }).click()
    await there(page.getByText('one.site.yaml:3:15: unreadable: cannot read "text.woff2": there is no such file; fix'))
    await drop('notes.txt', 'no site')
    await there(page.getByText('None of notes.txt is a site file'))
  })

  it('keeps what was changed in the open site when another one cannot be opened', async () => {
    const { page } = bench
    await bench.go('#/page/visit')
    await bench.planSetting('spacing.before', '7px')
    await bench.dialog().getByRole('button', { name: 'Apply' }).click()
    await gone(bench.dialog())
    await page.evaluate(() => {
      const data = new DataTransfer()
      data.items.add(new File(['no site'], 'notes.txt'))
      dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }))
    })
    await page.getByRole('button', { name: 'Back to the open site' }).click()
    await page.getByRole('button', { name: /^Undo: spacing.before: 7px/ }).click()
    await there(page.getByRole('button', { name: /^Redo: spacing.before: 7px/ }))
  })
})
