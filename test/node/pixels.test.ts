import { expect } from 'chai'
import { encode as encodePng } from 'fast-png'
import { encode as encodeJpeg } from 'jpeg-js'
import { mkdtempSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { deflateSync } from 'node:zlib'
import { inspect, resolveSite } from 'wembra'
import { loadSite } from 'wembra/node'
import { NOW } from '../support/site.js'

/** A picture of 20 × 12 with 3 empty rows above and 2 below what it shows. */
function points(empty: readonly number[], full: readonly number[]): Uint8Array {
  const data = new Uint8Array(20 * 12 * 4)
  for (let y = 0; y < 12; y++)
    for (let x = 0; x < 20; x++) data.set(y >= 3 && y < 10 && x > 0 && x < 19 ? full : empty, (y * 20 + x) * 4)
  return data
}
const SVG =
  '<svg xmlns="http://www.w3.org/2000/svg" width="20" height="12"><rect x="1" y="3" width="18" height="7" fill="#123"/></svg>'

/** A folder with a site whose header is as tall as the logo in it. */
function folder(name: string, content: Uint8Array | string): string {
  const path = mkdtempSync(join(tmpdir(), 'wembra-logo-'))
  writeFileSync(join(path, name), content)
  writeFileSync(
    join(path, 'a.site.yaml'),
    `wembra: 1\nsite: { name: A }\nassets: { mark: { file: ${name} } }\nsurrounds: { top: { as: header, rows: [ { items: [ { logo: mark, height: 24px } ] } ] } }\ntheme: { layout: { header: { use: top } } }\npages: { a: { path: /, title: A } }\n`,
  )
  return path
}
const blankIn = (path: string) =>
  inspect(resolveSite(loadSite(path)), { now: NOW, fixes: false }).find((f) => f.rule === 'logo-margins')?.numbers

describe('a logo’s empty rows, read from its points', () => {
  const cases: readonly (readonly [string, Uint8Array | string])[] = [
    ['mark.png', encodePng({ width: 20, height: 12, data: points([0, 0, 0, 0], [9, 9, 9, 255]) })],
    ['mark.svg', SVG],
    ['mark.jpg', encodeJpeg({ width: 20, height: 12, data: points([255, 255, 255, 255], [0, 0, 0, 255]) }, 100).data],
  ]
  for (const [name, content] of cases)
    it(`of ${name.split('.')[1]?.toUpperCase() ?? ''}`, () => {
      const numbers = blankIn(folder(name, content))
      // 5 of 12 rows, drawn at 24 px; the edges of a JPEG are soft by a row.
      expect(numbers?.['blank']).to.be.closeTo(10, name.endsWith('jpg') ? 2 : 0)
      expect(numbers?.['saved']).to.equal(numbers?.['blank'])
    })

  it('says nothing of a broken picture, nor of one of 100 MB', () => {
    expect(blankIn(folder('mark.png', 'no picture'))).to.equal(undefined)
    const path = folder('mark.png', cases[0]?.[1] ?? '')
    truncateSync(join(path, 'mark.png'), 100 * 1024 * 1024)
    expect(blankIn(path)).to.equal(undefined)
  })
})

/** A chunk of a PNG: its length, name, data and check. */
function chunk(name: string, data: Uint8Array): Buffer {
  const named = Buffer.concat([Buffer.from(name), data])
  const around = Buffer.alloc(8)
  around.writeUInt32BE(data.length, 0)
  around.writeUInt32BE(crc32(named), 4)
  return Buffer.concat([around.subarray(0, 4), named, around.subarray(4)])
}

/** CRC-32 as PNG has it (ISO 3309), bit by bit. */
function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff
  for (const byte of bytes) {
    crc ^= byte
    for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1
  }
  return (crc ^ 0xffffffff) >>> 0
}

describe('pictures that were made to fill the memory, or to take for ever', () => {
  const PNG = Buffer.from(encodePng({ width: 20, height: 12, data: points([0, 0, 0, 0], [9, 9, 9, 255]) }))
  const head = PNG.subarray(0, 33)
  const rest = PNG.subarray(33)
  /** 100 MB of nothing in 100 KB. */
  const bomb = deflateSync(Buffer.alloc(100_000_000))

  it('have no points where their data come to more than they need', () => {
    const file = Buffer.concat([head, chunk('IDAT', bomb), chunk('IEND', Buffer.alloc(0))])
    expect(blankIn(folder('mark.png', file))).to.equal(undefined)
  })

  it('have those of their picture, whatever else is in the file', () => {
    const profile = Buffer.concat([Buffer.from('x\0\0'), bomb])
    for (const name of ['iCCP', 'zTXt', 'iTXt'])
      expect(blankIn(folder('mark.png', Buffer.concat([head, chunk(name, profile), rest])))?.['blank'], name).to.equal(
        10,
      )
  })

  it('have none where a JPEG is sent in very many scans', () => {
    const jpeg = Buffer.from(
      encodeJpeg({ width: 20, height: 12, data: points([255, 255, 255, 255], [0, 0, 0, 255]) }, 100).data,
    )
    const scan = jpeg.subarray(jpeg.indexOf(Buffer.from([0xff, 0xda])), jpeg.length - 2)
    const many = Buffer.concat([jpeg.subarray(0, -2), ...Array.from({ length: 2000 }, () => scan), jpeg.subarray(-2)])
    expect(blankIn(folder('mark.jpg', many))).to.equal(undefined)
  })

  it('are drawn apart where a drawing repeats or blurs, and come to the same', () => {
    const blurred = SVG.replace('<rect', '<filter id="f"><feOffset dx="0"/></filter><rect filter="url(#f)"')
    expect(blankIn(folder('mark.svg', blurred))?.['blank']).to.equal(10)
  })

  it('are given up where a drawing does not end', () => {
    const layers = Array.from(
      { length: 40 },
      (_, n) => `<g id="g${n + 1}"><use href="#g${n}"/><use href="#g${n}"/></g>`,
    )
    const endless = SVG.replace(
      '<rect',
      `<defs><g id="g0"><rect width="1" height="1"/></g>${layers.join('')}</defs><use href="#g40"/><rect`,
    )
    expect(blankIn(folder('mark.svg', endless))?.['blank']).to.equal(undefined)
  })

  it('are unknown for a drawing that is not well-formed XML', () => {
    expect(blankIn(folder('mark.svg', SVG.replace('<svg ', '<svg\0 ')))?.['blank']).to.equal(undefined)
  })
})
