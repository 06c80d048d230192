// Builds `dist`; where it is already what these sources make, it is left as it is.
import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { globSync } from 'tinyglobby'

const STEPS = [
  ['node_modules/typescript-7/bin/tsc', '-b', 'tsconfig.node.json'],
  ...['plain-types', 'observer', 'bundle'].map((step) => [`scripts/${step}.js`]),
]
const SOURCES = [
  'src/**',
  'types/**',
  'scripts/{build,plain-types,observer,bundle}.js',
  'tsconfig*.json',
  'package*.json',
]
/** Not what the compiler remembers for itself. */
const MADE = ['dist/**', '!**/*.tsbuildinfo']
/** The sum of what was built last, and of what it was built from. */
const KEPT = '.cache/built'

process.chdir(fileURLToPath(new URL('..', import.meta.url)))

function sumOf(patterns, tell) {
  const sum = createHash('sha256')
  for (const file of globSync(patterns, { dot: true }).sort()) sum.update(`${file}\n`).update(tell(file))
  return sum.digest('hex')
}

const sums = () =>
  [
    `node ${process.version}`,
    sumOf(SOURCES, (file) => readFileSync(file)),
    sumOf(MADE, (file) => `${statSync(file).size} ${statSync(file).mtimeMs}\n`),
  ].join('\n')

function kept() {
  try {
    return readFileSync(KEPT, 'utf8')
  } catch (error) {
    if (error.code === 'ENOENT') return undefined
    throw error
  }
}

/** Where the compiler finds what it makes a file of. */
const sourceOf = (file) => file.replace(/^dist/, 'src').replace(/(\.d)?\.(js|ts)(\.map)?$/, '.ts')

if (kept() === sums()) console.log('dist is built from these sources already')
else {
  // A build that breaks off is no build.
  rmSync(KEPT, { force: true })
  // The compiler leaves what it made of sources that are gone; the other steps make theirs anew.
  for (const file of globSync(MADE, { dot: true })) if (!existsSync(sourceOf(file))) rmSync(file)
  for (const step of STEPS) execFileSync(process.execPath, step, { stdio: 'inherit' })
  mkdirSync(dirname(KEPT), { recursive: true })
  writeFileSync(KEPT, sums())
}
