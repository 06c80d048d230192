import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gunzipSync } from 'node:zlib'
import { readObservation, type Observation } from 'wembra/reality'

/** What the observer saw of the stand-in host, written by `npm run record`; a live run compares it with today. */
export const RECORDED = join('test/reality/recorded/quillmere.ndjson.gz')
/** The same with all twelve changes of the host, at `desk`. */
export const CHANGED = join('test/reality/recorded/quillmere-changed.ndjson.gz')

/** The pages that visitors see, as they look to who has no site file of them, at the three usual viewports. */
export const UNKNOWN = join('test/reality/recorded/quillmere-unknown.ndjson.gz')

const PLACE = 'http://127.0.0.1:8431'

/** An observation without what is another one each time: the host's port and the moment. */
export const asRecorded = (line: string, origin: string): string =>
  line.replaceAll(origin, PLACE).replace(/"at":"\d{4}-\d\d-\d\dT[^"]*"/, '"at":"2026-11-24T00:00:00.000Z"')

export const recordedLines = (file: string): string[] =>
  gunzipSync(readFileSync(file)).toString('utf8').trimEnd().split('\n')

export const recorded = (file: string, viewport?: string): Observation[] =>
  recordedLines(file)
    .map((line, n) => readObservation(line, `${file} line ${n + 1}`) as Observation)
    .filter((seen) => viewport === undefined || seen.viewport?.name === viewport)
