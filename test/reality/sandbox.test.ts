import { expect } from 'chai'
import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { PAGE, serveOn, type Local } from '../support/servers.js'

const isRoot = process.getuid?.() === 0
/** A user without rights, who owns what the root user does: wherever this checkout is, it can be read. */
const ANOTHER = ['--user', '--map-user=1000', '--map-group=1000']
/** Whether this machine lets a user have names of its own, which is what the sandbox is made of. */
const isAllowed = spawnSync('unshare', [...(isRoot ? ANOTHER : ['--user']), 'true']).status === 0

/** `wembra observe ADDRESS --browser`; as another user where this is the root user. */
async function observe(address: string, isAnother: boolean): Promise<{ out: string; err: string }> {
  const home = mkdtempSync(join(tmpdir(), 'wembra-home-'))
  const command = [process.execPath, resolve('bin/wembra.js'), 'observe', address, '--browser']
  const [name = '', ...args] = isAnother && isRoot ? ['unshare', ...ANOTHER, ...command] : command
  const child = spawn(name, args, { cwd: home, env: { ...process.env, HOME: home, TMPDIR: home } })
  let [out, err] = ['', '']
  child.stdout.on('data', (text: Buffer) => void (out += text.toString()))
  child.stderr.on('data', (text: Buffer) => void (err += text.toString()))
  await new Promise((done) => child.on('close', done))
  return { out, err }
}

describe('the browser that looks at real pages', () => {
  let local: Local
  before(async () => {
    local = await serveOn((_request, response) => {
      response.setHeader('content-type', 'text/html')
      response.end(PAGE)
    })
  })
  after(() => local.close())

  it('has its sandbox where the machine allows a user one; else it is said that there is none', async () => {
    const { out, err } = await observe(`${local.origin}/`, isAllowed)
    expect(out).to.match(/"report":"observation"/)
    expect(/without its sandbox/.test(err)).to.equal(!isAllowed)
  })

  if (isRoot)
    it('has none for the root user, and that is said', async () => {
      const { out, err } = await observe(`${local.origin}/`, false)
      expect(out).to.match(/"report":"observation"/)
      expect(err).to.match(
        /^note: the browser runs without its sandbox, for the root user has none; look only at pages/,
      )
    })
})
