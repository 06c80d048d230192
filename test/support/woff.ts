import { brotliCompressSync, constants, deflateSync } from 'node:zlib'

interface Table {
  readonly tag: string
  readonly checksum: number
  readonly bytes: Buffer
}

/** The tables of a TrueType font, in the order of its directory (OpenType specification, "Font tables"). */
function tablesOf(font: Buffer): readonly Table[] {
  return Array.from({ length: font.readUInt16BE(4) }, (_, n) => {
    const at = 12 + 16 * n
    const [checksum, start, length] = [4, 8, 12].map((offset) => font.readUInt32BE(at + offset)) as [
      number,
      number,
      number,
    ]
    return { tag: font.toString('latin1', at, at + 4), checksum, bytes: font.subarray(start, start + length) }
  })
}

const u32 = (...numbers: readonly number[]): Buffer => {
  const out = Buffer.alloc(4 * numbers.length)
  numbers.forEach((number, n) => out.writeUInt32BE(number, 4 * n))
  return out
}
const u16 = (number: number): Buffer => u32(number).subarray(2)
const padded = (bytes: Buffer): Buffer => Buffer.concat([bytes, Buffer.alloc(-bytes.length & 3)])

/**
 * The same font in the format of WOFF 1.0 (W3C Recommendation, sections 3 to 5): each table packed by itself.
 *
 * @param cut - How many bytes are left of tables that break off.
 */
export function asWoff(font: Buffer, cut: Readonly<Record<string, number>> = {}): Buffer {
  const whole = tablesOf(font).map((table) => ({ ...table, bytes: table.bytes.subarray(0, cut[table.tag]) }))
  const tables = whole.map((table) => {
    const packed = deflateSync(table.bytes)
    return { ...table, packed: packed.length < table.bytes.length ? packed : table.bytes }
  })
  let at = 44 + 20 * tables.length
  const directory: Buffer[] = []
  for (const { tag, checksum, bytes, packed } of tables) {
    directory.push(Buffer.from(tag, 'latin1'), u32(at, packed.length, bytes.length, checksum))
    at += padded(packed).length
  }
  const head = [Buffer.from('wOFF'), font.subarray(0, 4), u32(at), u16(tables.length), u16(0), u32(font.length)]
  return Buffer.concat([...head, Buffer.alloc(24), ...directory, ...tables.map(({ packed }) => padded(packed))])
}

/** A number in base 128 (WOFF 2.0, section 4.1). */
function base128(number: number): Buffer {
  const bytes = [number & 127]
  for (let rest = number >>> 7; rest > 0; rest >>>= 7) bytes.unshift((rest & 127) | 128)
  return Buffer.from(bytes)
}

/** That a tag follows; with it, that outlines are as they were (WOFF 2.0, section 4.2). */
const [OWN_TAG, UNCHANGED] = [63, 3 << 6]

/** The same font in the format of WOFF 2.0 (W3C Recommendation, sections 3 and 4): all tables packed as one, none changed. */
export function asWoff2(font: Buffer): Buffer {
  const tables = tablesOf(font)
  const directory = Buffer.concat(
    tables.flatMap(({ tag, bytes }) => [
      Buffer.from([OWN_TAG | (tag === 'glyf' || tag === 'loca' ? UNCHANGED : 0)]),
      ...[Buffer.from(tag, 'latin1'), base128(bytes.length)],
    ]),
  )
  const packed = brotliCompressSync(Buffer.concat(tables.map(({ bytes }) => bytes)), {
    params: { [constants.BROTLI_PARAM_QUALITY]: 5 },
  })
  const length = 48 + directory.length + padded(packed).length
  const head = [Buffer.from('wOF2'), font.subarray(0, 4), u32(length), u16(tables.length), u16(0), u32(font.length)]
  return Buffer.concat([...head, u32(packed.length), Buffer.alloc(24), directory, padded(packed)])
}
