import { expect } from 'chai'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { SiteError } from 'wembra'
import { readExport } from 'wembra/node'

describe('an export of another system', () => {
  let folder: string
  before(() => (folder = mkdtempSync(join(tmpdir(), 'wembra-exports-'))))
  after(() => rmSync(folder, { recursive: true, force: true }))

  const read = (name: string, text: string | Uint8Array): unknown => {
    const file = join(folder, name)
    writeFileSync(file, text)
    const { name: told, value } = readExport(file)
    expect(told).to.equal(name)
    return value
  }
  /** Line, column and message of the one problem there is. */
  const fault = (name: string, text: string): unknown => {
    try {
      return read(name, text)
    } catch (error) {
      if (!(error instanceof SiteError)) throw error
      const [{ line, column, message, code } = { line: 0, column: 0, message: '', code: '' }] = error.problems
      return [code, line, column, message.split(':')[0]]
    }
  }

  it('is JSON, or a list of the lines that are', () => {
    expect(read('a.json', '\uFEFF{ "pages": [ { "id": 1 } ] }')).to.deep.equal({ pages: [{ id: 1 }] })
    expect(read('a.ndjson', '{"id":1}\n\n{"id":2}\n')).to.deep.equal([{ id: 1 }, { id: 2 }])
    expect(read('A.JSON', '[]')).to.deep.equal([])
  })

  it('is a table: rows by the names in its first line, as texts', () => {
    const rows = [
      { id: '1', title: 'Tarn, upper' },
      { id: '2', title: 'Fell' },
    ]
    expect(read('a.csv', 'id,title\r\n1,"Tarn, upper"\r\n\r\n2,Fell\r\n')).to.deep.equal(rows)
    expect(read('b.csv', 'id;title\n1;Tarn, upper\n2;Fell\n')).to.deep.equal(rows)
    expect(read('a.tsv', 'id\ttitle\n1\tTarn, upper\n2\tFell\n')).to.deep.equal(rows)
    expect(read('empty.csv', 'id,title\n')).to.deep.equal([])
  })

  it('is XML: elements by their names without namespaces, what holds elements as a list, even alone', () => {
    const text =
      '<?xml version="1.0"?><x:site xmlns:x="urn:x"><page id="1"><title lang="en">Tarn</title><n>07</n></page></x:site>'
    expect(read('a.xml', text)).to.deep.equal({
      site: { page: [{ '@id': '1', title: { '#text': 'Tarn', '@lang': 'en' }, n: '07' }] },
    })
  })

  it('that cannot be read says where', () => {
    expect(fault('a.json', '{\n  "pages": [,]\n}')).to.deep.equal(['unreadable', 2, 13, 'this is not JSON'])
    expect(fault('a.ndjson', '{"id":1}\n{"id":}\n')).to.deep.equal(['unreadable', 2, 7, 'this is not JSON'])
    expect(fault('a.csv', 'id,title\n1,Tarn\n2,Fell,too much\n')).to.deep.equal([
      ...['unreadable', 3, 1, 'this is not CSV with a header row'],
    ])
    expect(fault('a.xml', '<site>\n  <page></pag>\n</site>')).to.deep.equal(['unreadable', 2, 9, 'this is not XML'])
  })

  it('declares no entities, has an ending that is known, and is there', () => {
    expect(fault('a.xml', '<!DOCTYPE site [<!ENTITY a "b">]><site>&a;</site>')).to.deep.equal([
      ...['unreadable', 1, 1, 'it declares a document type, whose entities may expand without end; export without one'],
    ])
    expect(fault('a.txt', 'words')).to.deep.equal([
      ...['unreadable', 1, 1, 'an export is .json, .ndjson, .csv, .tsv or .xml, not .txt'],
    ])
    expect(() => readExport(join(folder, 'none.json'))).to.throw(SiteError, 'there is no such file')
    mkdirSync(join(folder, 'folder.json'))
    expect(() => readExport(join(folder, 'folder.json'))).to.throw(SiteError, 'folder')
  })
})
