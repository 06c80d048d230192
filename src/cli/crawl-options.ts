import { Option } from 'commander'
import { againOption } from './options.js'

/** Options of commands that look at real pages. */
export interface CrawlOptions {
  readonly browser?: true
  readonly concurrency?: string
  readonly timeout: string
  readonly maxSize: string
  readonly maxPages: string
  readonly otherOrigins?: true
  readonly ignoreRobots?: true
  readonly header?: readonly string[]
  readonly save?: string
  readonly resume?: true
  readonly overwrite?: true
}

export const crawlOptions = (): readonly Option[] => [
  new Option('--browser', 'lay the pages out in Chromium at every viewport; without it, only their markup is read'),
  new Option('--concurrency <n>', 'pages at once; default: 4, with a browser 2'),
  new Option('--timeout <seconds>', 'time limit for one page').default('15'),
  new Option('--max-size <MB>', 'size limit for one page, and for each file it needs').default('10'),
  new Option('--max-pages <n>', 'observe at most this many pages').default('10000'),
  new Option('--other-origins', 'follow redirects to, and fetch files from, other origins, too'),
  new Option('--ignore-robots', 'fetch what robots.txt does not allow: for a site of your own'),
  againOption('--header <line>', 'send this header with each request: "cookie: member=1"'),
  new Option('-s, --save <file>', 'save each observation as it is made (NDJSON)'),
  new Option('--resume', 'continue the file of --save: observe only what is missing in it'),
  new Option('--overwrite', 'start the file of --save over'),
]

/** Whether a word of `check` leads to real pages: an address, or observations that were saved. */
export const leadsToPages = (word: string): boolean => /^https?:\/\//i.test(word) || word.endsWith('.ndjson')
