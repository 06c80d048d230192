// Fetches the packages of the list and unpacks them into .cache/real/, links between them made to work from there.
import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readlinkSync, rmSync, symlinkSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { CACHE, folderOf, realSites, type RealSite } from './sites.js'

/** Files that the documentation packages share. */
const SHARED = ['libjs-sphinxdoc', 'libjs-jquery', 'libjs-underscore', 'libjs-bootstrap', 'fonts-font-awesome']

const packages = join(CACHE, 'packages')

function debFile(name: string): string {
  const known = readdirSync(packages).find((file) => file.startsWith(`${name}_`))
  if (known) return join(packages, known)
  execFileSync('apt-get', ['download', name], { cwd: packages, stdio: 'ignore' })
  return debFile(name)
}

function unpackDeb(name: string, to: string, only?: string): void {
  const tar = execFileSync('dpkg-deb', ['--fsys-tarfile', debFile(name)], { maxBuffer: 2 ** 31 - 1 })
  execFileSync('tar', ['-x', '-C', to, ...(only ? [`./${only}`] : [])], { input: tar })
}

function unpackNpm(spec: string, to: string): void {
  const out = execFileSync('npm', ['pack', spec, '--silent', '--pack-destination', packages], { encoding: 'utf8' })
  execFileSync('tar', ['-xzf', join(packages, out.trim().split('\n').at(-1) ?? ''), '-C', to])
}

/** Links of a package that begin at the machine's root lead to the folder's own. */
function keepLinksInside(folder: string): void {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isSymbolicLink()) continue
    const link = join(entry.parentPath, entry.name)
    const target = readlinkSync(link)
    if (!target.startsWith('/')) continue
    rmSync(link)
    symlinkSync(relative(dirname(link), join(folder, target)), link)
  }
}

/** Fetches one site, unless it is there. */
export function fetchReal(site: RealSite): void {
  const folder = folderOf(site)
  if (existsSync(folder)) return
  mkdirSync(packages, { recursive: true })
  mkdirSync(folder, { recursive: true })
  try {
    if (site.npm !== undefined) unpackNpm(site.npm, folder)
    if (site.deb !== undefined) {
      unpackDeb(site.deb, folder, site.only)
      for (const name of [...SHARED, ...(site.with ?? [])]) unpackDeb(name, folder)
    }
    keepLinksInside(folder)
  } catch (error) {
    rmSync(folder, { recursive: true, force: true })
    throw error
  }
}

export function fetchAll(only: readonly string[]): void {
  for (const site of realSites(only)) {
    fetchReal(site)
    console.log(`${site.id}: ${site.make}, ${site.pages.length} pages`)
  }
}
