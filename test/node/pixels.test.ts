import { expect } from 'chai'
import { encode as encodePng } from 'fast-png'
import { encode as encodeJpeg } from 'jpeg-js'
import { mkdtempSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
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
