import { expect } from 'chai'
import { build } from 'esbuild'
import { execFileSync, spawn, spawnSync } from 'node:child_process'
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { createServer, preview, type ViteDevServer } from 'vite'
import { openPage, there, useBrowser } from '../support/browser.js'
import { runScript } from '../support/command-line.js'
import { Editor } from '../support/lsp-client.js'

/** Every subpath that runs anywhere, with something of it to call. */
const ANYWHERE = {
  wembra: 'readSite',
  'wembra/report': 'findingsSarif',
  'wembra/reality': 'findDrift',
  'wembra/language': 'hoverAt',
  'wembra/fonts': 'fontMeasurer',
} as const
const SUBPATHS = [...Object.keys(ANYWHERE), 'wembra/node', 'wembra/observe']

const SITE =
  'wembra: 1\nsite: { name: Tarn }\nsurrounds: { top: { as: header, height: 96px } }\ntheme: { layout: { header: { use: top, position: fixed } } }\npages: { visit: { path: /visit, title: Visit } }\n'

/** What a page and a worker do with every part of the library: the answer is the same everywhere. */
const WORK = `
import { inspect, measurePage, memoryFiles, readSite, resolveSite } from 'wembra'
import { drawWireframe, findingsJunit, findingsMarkdown, findingsSarif, renderHtml } from 'wembra/report'
import { findDrift } from 'wembra/reality'
import { hoverAt, SiteProject } from 'wembra/language'
import { fontMeasurer } from 'wembra/fonts'
import { RULES } from 'wembra'

export function work() {
  const resolved = resolveSite(readSite(${JSON.stringify(SITE)}))
  const findings = inspect(resolved, { rules: ['header-covers-content'], fixes: 'first' })
  const measure = measurePage(resolved.page('visit'), 'phone')
  const written = [
    findingsJunit('Tarn', findings, RULES), findingsMarkdown('Tarn', findings, 1),
    JSON.stringify(findingsSarif(findings, RULES, '1')), drawWireframe([measure]), renderHtml(measure),
  ]
  return [
    findings[0].message, findings[0].fixes.length, structuredClone(measure).boxes.length,
    written.every((text) => text.length > 100), findDrift(resolved, []).findings.length,
    fontMeasurer(new Uint8Array(3)) === undefined,
    hoverAt(new SiteProject('t.yaml', memoryFiles({ 't.yaml': ${JSON.stringify(SITE)} })), 't.yaml', { line: 3, column: 15 }).markdown.slice(0, 21),
    readSite('{"wembra":1,"site":{"name":"T"},"theme":{},"pages":{}}', { file: 'a.json' }).locate('/pages').column,
  ].join(' | ')
}
`
const EXPECTED =
  'the header covers 48 px of the title: it is 96 px tall and has 48 px of room | 1 | 7 | true | 0 | true | **surround** `top`\n\n- | 44'

describe('the package, packed and installed', () => {
  let folder: string
  let app: string
  const browser = useBrowser()

  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'wembra-package-'))
    app = join(folder, 'app')
    mkdirSync(join(app, 'src'), { recursive: true })
    const npm = (cwd: string, ...words: string[]): string =>
      execFileSync('npm', [...words, '--no-audit', '--no-fund', '--loglevel', 'error'], { cwd, encoding: 'utf8' })
    writeFileSync(join(app, 'package.json'), '{ "name": "app", "private": true, "type": "module" }')
    // Not as a link to the folder, but packed as it would be published.
    npm(app, 'install', '--install-links', '--ignore-scripts', '--prefer-offline', '--omit=peer', resolve('.'))
    writeFileSync(join(app, 'src/work.js'), WORK)
    writeFileSync(join(app, 'src/worker.js'), "import { work } from './work.js'\npostMessage(work())\n")
    writeFileSync(
      join(app, 'src/main.js'),
      `import { work } from './work.js'
document.body.dataset.page = work()
const worker = new Worker(new URL('./worker.js', import.meta.url), { type: 'module' })
worker.onmessage = ({ data }) => (document.body.dataset.worker = data)
worker.onerror = (event) => (document.body.dataset.worker = 'error: ' + event.message)
`,
    )
    writeFileSync(
      join(app, 'index.html'),
      '<!doctype html><title>App</title><link rel="icon" href="data:,"><body><script type="module" src="/src/main.js"></script>',
    )
  })
  after(async () => {
    rmSync(folder, { recursive: true, force: true })
  })

  const run = (script: string): string =>
    execFileSync(process.execPath, ['--input-type=module', '--eval', script], { cwd: app, encoding: 'utf8' }).trim()

  /** What the page and its worker answer at an address. */
  async function answers(address: string): Promise<unknown> {
    const { page, errors } = await openPage(browser(), address)
    await page.waitForSelector('body[data-page][data-worker]', { state: 'attached' }).catch(() => undefined)
    const { page: ofPage, worker } = await page
      .evaluate('({ ...document.body.dataset })')
      .then((v) => v as Record<string, string>)
    await page.close()
    return { page: ofPage, worker, errors }
  }
  const RIGHT = { page: EXPECTED, worker: EXPECTED, errors: [] }

  it('has what its README and its types name, and nothing of the workshop', () => {
    const root = join(app, 'node_modules/wembra')
    for (const file of [
      'README.md',
      'CHANGELOG.md',
      'LICENSE',
      'docs/guide/README.md',
      'docs/rules/nav-lost.md',
      'docs/site.schema.json',
    ])
      expect(existsSync(join(root, file)), file).to.equal(true)
    const packed = JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as Record<string, unknown>
    for (const key of ['repository', 'homepage', 'keywords', 'license', 'bugs'])
      expect(packed, key).to.have.property(key)
    for (const name of ['test', 'bench', 'scripts', 'node_modules'])
      expect(readdirSync(root), name).not.to.include(name)
    // Maps lead to sources that are there.
    const map = JSON.parse(readFileSync(join(root, 'dist/index.js.map'), 'utf8')) as { sources: string[] }
    expect(existsSync(join(root, 'dist', map.sources[0] ?? ''))).to.equal(true)
  })

  // Each in a process of its own: none may rest on another that was imported before it.
  for (const subpath of SUBPATHS)
    it(`${subpath} is imported in Node`, () => {
      expect(Number(run(`console.log(Object.keys(await import('${subpath}')).length)`))).to.be.above(0)
    })

  it('does the same work in Node', () => {
    expect(run("import { work } from './src/work.js'; console.log(work())")).to.equal(EXPECTED)
  })

  it('does the same work in one file that a bundler made for Node', async () => {
    const outfile = join(app, 'bundled.cjs')
    await build({
      stdin: { contents: "import { work } from './src/work.js'; console.log(work())", resolveDir: app },
      ...{ bundle: true, platform: 'node', outfile, logLevel: 'silent' },
    })
    expect(execFileSync(process.execPath, [outfile], { cwd: app, encoding: 'utf8' }).trim()).to.equal(EXPECTED)
  })

  it('has one class for each error, whichever part throws it', () => {
    const script =
      "import { SiteError, WembraError } from 'wembra'; import { loadSite } from 'wembra/node'; try { loadSite('none.yaml') } catch (e) { console.log(e instanceof SiteError, e instanceof WembraError) }"
    expect(run(script)).to.equal('true true')
  })

  it('does the same work in a development server and its worker, without configuration', async () => {
    const server: ViteDevServer = await createServer({
      root: app,
      configFile: false,
      logLevel: 'silent',
      server: { port: 0 },
    })
    await server.listen()
    try {
      expect(await answers(server.resolvedUrls?.local[0] ?? '')).to.deep.equal(RIGHT)
    } finally {
      await server.close()
    }
  })

  it('does the same work in a built page and its worker, without configuration', async () => {
    // As a person does it: Vite beside the app, in a process of its own.
    symlinkSync(resolve('node_modules/vite'), join(app, 'node_modules/vite'))
    const { NODE_ENV: _mode, ...env } = process.env
    const built = runScript(resolve('node_modules/vite/bin/vite.js'), ['build', '--logLevel', 'error'], {
      cwd: app,
      env,
    })
    expect(built).to.deep.include({ code: 0, err: '' })
    const server = await preview({ root: app, configFile: false, logLevel: 'silent', preview: { port: 0 } })
    try {
      expect(await answers(server.resolvedUrls?.local[0] ?? '')).to.deep.equal(RIGHT)
    } finally {
      await server.close()
    }
  })

  for (const [compiler, how, options] of [
    ['typescript', 'nodenext', { module: 'nodenext', moduleResolution: 'nodenext' }],
    ['typescript-7', 'bundler', { module: 'esnext', moduleResolution: 'bundler' }],
  ] as const)
    it(`has types that are right under ${how} for ${compiler}, those of its packages included`, () => {
      writeFileSync(
        join(app, 'src/types.ts'),
        `import { inspect, readSite, resolveSite, type Finding, type PropertyPath, type RuleId } from 'wembra'
${Object.keys(ANYWHERE)
  .slice(1)
  .map((subpath, n) => `import * as part${n} from '${subpath}'\nvoid part${n}`)
  .join('\n')}
const path: PropertyPath = 'header.position'
const rule: RuleId = 'header-covers-content'
const resolved = resolveSite(readSite('wembra: 1'))
export const findings: readonly Finding[] = inspect(resolved, { rules: [rule] })
export const position: 'flow' | 'sticky' | 'fixed' | 'overlay' = resolved.page('visit').at('phone').header.position.value
resolved.page('visit').at('phone').value(path)
// @ts-expect-error no such property
resolved.page('visit').at('phone').value('header.posn')
// @ts-expect-error no such rule
inspect(resolved, { rules: ['header-covers'] })
`,
      )
      writeFileSync(
        join(app, 'tsconfig.json'),
        JSON.stringify({
          compilerOptions: {
            ...options,
            target: 'es2023',
            lib: ['ES2023', 'DOM'],
            strict: true,
            skipLibCheck: false,
            noEmit: true,
            types: [],
          },
          include: ['src/types.ts'],
        }),
      )
      expect(runScript(resolve('node_modules', compiler, 'bin/tsc'), ['-p', app])).to.deep.include({ code: 0, out: '' })
    })

  it('serves an editor', async () => {
    const folder = join(app, 'edited')
    mkdirSync(folder)
    writeFileSync(join(folder, 'tarn.site.yaml'), SITE)
    const editor = await Editor.of(folder, {}, [join(app, 'node_modules/.bin/wembra')])
    const codes = (await editor.show('tarn.site.yaml')).map(({ code }) => code)
    expect(codes).to.include('header-covers-content')
    expect(await editor.close()).to.equal(0)
  })

  it('runs every command', () => {
    const site = join(app, 'site')
    mkdirSync(site)
    writeFileSync(join(site, 'tarn.site.yaml'), `${SITE}templates: { campaign: {} }\n`)
    const started = spawnSync(join(app, 'node_modules/.bin/wembra'), ['--version'], { cwd: site, encoding: 'utf8' })
    expect(started).to.deep.include({ status: 0, stderr: '' })
    const commands: readonly (readonly [string, number])[] = [
      ['--help', 0],
      ['new fresh -y', 0],
      ['check --rule header-covers-content', 1],
      ['show visit', 0],
      ['why visit header.position', 0],
      ['table', 0],
      ['uses campaign', 0],
      ['draw visit -o visit.png', 0],
      ['diff --set theme.layout.spacing=40px', 0],
      ['how visit header=absent', 0],
      ['snapshot -o before.json', 0],
      ['fix --dry-run --rule header-covers-content', 0],
      ['css', 0],
      ['groups', 0],
      ['pack campaign -o campaign.pack.json', 0],
      ['unpack campaign.pack.json', 0],
      ['rules', 0],
      ['schema', 0],
      ['completion bash', 0],
      ['observe page.html --format ndjson', 0],
      ['draft page.html', 2],
      ['import none.yaml none.json', 2],
    ]
    writeFileSync(join(site, 'page.html'), '<!doctype html><title>Tarn</title><main><h1>Tarn</h1></main>')
    // One process for all: how each is started from its file is seen above, and by the editor and the app.
    const root = join(app, 'node_modules/wembra')
    const script = readdirSync(join(root, 'dist/command')).find((name) => name.endsWith('.cjs')) ?? ''
    const running = `
import { main, processIo } from ${JSON.stringify(join(root, 'dist/command', script))}
import { writeFileSync } from 'node:fs'
const ended = []
for (const [words] of ${JSON.stringify(commands)}) {
  let err = ''
  const io = { ...processIo(() => ''), out: () => {}, err: (text) => void (err += text) }
  ended.push([words, await main(words.split(' '), io), /\\n {4}at /.test(err)])
}
writeFileSync('ended.json', JSON.stringify(ended))`
    const ran = spawnSync(process.execPath, ['--input-type=module', '--eval', running], { cwd: site, encoding: 'utf8' })
    // It ends by itself: no command leaves anything open.
    expect(ran).to.deep.include({ status: 0, stderr: '' })
    const ended: unknown = JSON.parse(readFileSync(join(site, 'ended.json'), 'utf8'))
    expect(ended).to.deep.equal(commands.map(([words, code]) => [words, code, false]))
    expect(existsSync(join(site, 'visit.png'))).to.equal(true)
  })

  it('serves its app', async () => {
    const bin = join(app, 'node_modules/.bin/wembra')
    const site = join(app, 'quillmere')
    cpSync(join(app, 'node_modules/wembra/examples/quillmere'), site, { recursive: true })
    const child = spawn(bin, ['open', '--format', 'json'], { cwd: site })
    try {
      const address = await new Promise<string>((done, fail) => {
        let said = ''
        child.stdout.on('data', (chunk: Buffer) => {
          said += chunk.toString()
          const found = /"address": "([^"]+)"/.exec(said)?.[1]
          if (found !== undefined) done(found)
        })
        child.once('exit', (code) => fail(new Error(`wembra open ended with ${code}: ${said}`)))
      })
      const { page } = await openPage(browser(), address)
      await there(page.getByText('Quillmere Observatory').first())
      await page.close()
    } finally {
      child.kill('SIGINT')
    }
  })
})
