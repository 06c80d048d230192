import { parse as parseCsv } from 'csv-parse/sync'
import { XMLParser } from 'fast-xml-parser'
import { readFileSync, statSync } from 'node:fs'
import { basename } from 'node:path'
import { jsonFault } from '../model/json-text.js'
import type { Json } from '../model/json.js'
import { SiteError, type ProblemCode } from '../model/problem.js'
import { whyUnreadable } from './why-unreadable.js'
import type { ExportFile } from '../reality/import-site.js'

const LARGEST = 512 * 1024 * 1024

/**
 * Reads a file of another system's export: JSON, NDJSON (a list of its lines), CSV (rows by the names in its first
 * line) or XML (elements by their names, attributes with `@`, text beside either as `#text`; what repeats or holds elements
 * is a list).
 *
 * @throws {SiteError} With the place at which it cannot be read.
 */
export function readExport(file: string): ExportFile {
  const text = readText(file)
  const ending = /\.(\w+)$/.exec(file)?.[1]?.toLowerCase() ?? ''
  const reader = READERS[ending]
  if (!reader) throw problem(file, 'unreadable', `an export is .json, .ndjson, .csv, .tsv or .xml, not .${ending}`)
  return { name: basename(file), value: reader(text, file) }
}

function readText(file: string): string {
  try {
    if (statSync(file).size > LARGEST)
      throw problem(file, 'too-large', 'this is larger than 512 MiB; export it in parts')
    return readFileSync(file, 'utf8').replace(/^\uFEFF/, '')
  } catch (error) {
    if (error instanceof SiteError) throw error
    throw problem(file, 'unreadable', whyUnreadable(error))
  }
}

const READERS: Readonly<Record<string, (text: string, file: string) => Json>> = {
  json: (text, file) => readJson(text, file, 1),
  ndjson: (text, file) =>
    text.split('\n').flatMap((line, n) => (line.trim() === '' ? [] : [readJson(line, file, n + 1)])),
  csv: (text, file) => readCsv(text, file, ','),
  tsv: (text, file) => readCsv(text, file, '\t'),
  xml: readXml,
}

function readJson(text: string, file: string, line: number): Json {
  try {
    return JSON.parse(text) as Json
  } catch {
    const fault = jsonFault(text)
    throw problem(file, 'unreadable', `this is not JSON: ${fault.message}`, line + fault.line - 1, fault.column)
  }
}

function readCsv(text: string, file: string, delimiter: string): Json {
  try {
    const first = text.slice(0, Math.max(0, text.indexOf('\n')))
    const semicolons = delimiter === ',' && first.includes(';') && !first.includes(',')
    return parseCsv(text, {
      columns: true,
      delimiter: semicolons ? ';' : delimiter,
      skip_empty_lines: true,
      bom: true,
    }) as Json
  } catch (error) {
    const { message, lines } = error as Error & { lines?: number }
    throw problem(file, 'unreadable', `this is not CSV with a header row: ${message}`, lines ?? 1)
  }
}

function readXml(text: string, file: string): Json {
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    throw problem(
      file,
      'unreadable',
      'it declares a document type, whose entities may expand without end; export without one',
    )
  try {
    const parser = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '@',
      parseTagValue: false,
      ignoreDeclaration: true,
      removeNSPrefix: true,
      // What holds elements is a list even where it is alone, so that one record is read as two are.
      isArray: (_name, path, isLeaf, isAttribute) => !isAttribute && !isLeaf && String(path).includes('.'),
    })
    return parser.parse(text, true) as Json
  } catch (error) {
    const { message } = error as Error
    const [, line = '1', column = '1'] = /:(\d+):(\d+)$/.exec(message) ?? []
    throw problem(file, 'unreadable', `this is not XML: ${message}`, Number(line), Number(column))
  }
}

const problem = (file: string, code: ProblemCode, message: string, line = 1, column = 1): SiteError =>
  new SiteError([{ code, message, file, line, column }])
