import { execFileSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'

export const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium'
export const CHROMIUM_ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--font-render-hinting=none',
  `--disable-features=${JSON.parse(readFileSync(new URL('../src/node/chromium-features.json', import.meta.url), 'utf8')).join(',')}`,
]

/** Makes sure a Chromium is there: tests of the apps need one, and are never skipped for want of it. */
export function ensureChromium() {
  if (existsSync(CHROMIUM)) return
  const wayOut = 'install it (Debian: apt-get update && apt-get install -y chromium), or name one with CHROMIUM=/path'
  if (process.env.CHROMIUM) throw new Error(`there is no Chromium at ${CHROMIUM}; ${wayOut}`)
  console.log('no Chromium on this machine; installing Debian’s')
  try {
    const options = {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }
    execFileSync('apt-get', ['update'], options)
    execFileSync('apt-get', ['install', '-y', 'chromium'], options)
  } catch {
    throw new Error(`Chromium could not be installed here; ${wayOut}`)
  }
}

if (process.argv[1] === new URL(import.meta.url).pathname) {
  try {
    ensureChromium()
  } catch (error) {
    console.error(error.message)
    process.exitCode = 1
  }
}
