// The API reference is made of the sources, which takes long: whether it was made of those of today is told by a sum.
import { createHash } from 'node:crypto'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'

const ROOT = fileURLToPath(new URL('..', import.meta.url))
const PAGES = 'docs/api'
const SUM = 'docs/api.sha256'
const MAKERS = ['typedoc', 'typedoc-plugin-markdown', 'typescript']

/** The sum of the sources, the settings, the versions of what makes the reference, and its pages. */
function sumOf(root: string): string {
  const hash = createHash('sha256')
  const under = (folder: string): string[] =>
    readdirSync(join(root, folder), { recursive: true, encoding: 'utf8' })
      .filter((name) => /\.(ts|md)$/.test(name))
      .map((name) => join(folder, name))
      .sort()
  const settings = ['typedoc.json', 'tsconfig.api.json', 'tsconfig.json']
  for (const file of [...settings, ...under('src'), ...under('types'), ...under(PAGES)])
    hash.update(`${file}\0${readFileSync(join(root, file), 'utf8')}\0`)
  for (const name of MAKERS) {
    const { version } = JSON.parse(readFileSync(join(ROOT, 'node_modules', name, 'package.json'), 'utf8')) as {
      version: string
    }
    hash.update(`${name} ${version}\0`)
  }
  return hash.digest('hex')
}

/** Whether the reference is what was made, without a complaint, of the sources as they are. */
export const isReferenceOfToday = (root = ROOT): boolean => readFileSync(join(root, SUM), 'utf8').trim() === sumOf(root)

if (process.argv[1] === fileURLToPath(import.meta.url)) writeFileSync(join(ROOT, SUM), `${sumOf(ROOT)}\n`)
