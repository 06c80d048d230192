// Random changes of every kind in memory, checked against the changed files read afresh: facets, boxes, chains, findings, places and fixes.
import { resolveSite } from 'wembra'
import { loadSite } from 'wembra/node'
import { Random } from '../test/support/random-site.js'
import { holdAgainstFiles, holdReread, KINDS, randomResolved } from '../test/support/same-as-afresh.js'

const changes = Number(process.argv[2] ?? 1000)
const first = Number(process.argv[3] ?? 1)
const DEMOS = ['examples/quillmere', 'examples/fellside', 'examples/quillmere-winter'].map((path) =>
  resolveSite(loadSite(path)),
)
/** On a demo site one of so many changes is tried; the others on random sites. */
const ON_DEMOS = 10
const counts = { no: 0, memory: 0, files: 0, reread: 0 }
for (let seed = first; counts.memory + counts.files < changes; seed++) {
  const kind = KINDS[seed % KINDS.length] as string
  const demo = seed % ON_DEMOS === 0 ? DEMOS[(seed / ON_DEMOS) % DEMOS.length] : undefined
  const site = demo ?? randomResolved(seed)
  if (!site) continue
  try {
    counts[holdAgainstFiles(site, kind, new Random(seed), true)]++
    // The same of files that changed and are read again, here and in another thread.
    if (!demo && holdReread(site.site, kind, new Random(seed))) counts.reread++
  } catch (error) {
    console.error(
      `change ${seed} (${kind}) is not told as its files read afresh:\n${(error as Error).message.slice(0, 2000)}`,
    )
    process.exitCode = 1
    counts.memory++
  }
}
console.log(
  `${counts.memory + counts.files} changes checked against the same site read afresh, ${counts.files} of them written into its files, ${counts.reread} read again; ${counts.no} could not be made`,
)
