import { expect } from 'chai'
import { PatchError, type Patch } from 'wembra'
import { siteOf } from '../support/site.js'

const site = siteOf('')

/** Patches that a file may hold, whoever wrote it, with what is said of them. */
const PATCHES: readonly (readonly [string, unknown, string])[] = [
  ['an operation that is none', { op: 'fly', path: '/theme' }, '"fly" is no operation; known are add, remove'],
  ['no operation', { path: '/theme' }, 'undefined is no operation'],
  ['no path', { op: 'remove' }, 'path undefined is no JSON Pointer'],
  ['a number to move from', { op: 'move', from: 1, path: '/theme' }, 'from 1 is no JSON Pointer'],
  ['a ~ that stands for nothing', { op: 'add', path: '/theme/~', value: 1 }, 'path "/theme/~" is no JSON Pointer'],
  ['a path that is no pointer', { op: 'add', path: 'theme', value: 1 }, 'path "theme" is no JSON Pointer'],
  ['a key of a word', { op: 'add', path: '/site/name/x', value: 1 }, 'add /site/name/x: "Test" is no map or list'],
  ['no value', { op: 'add', path: '/severity' }, 'add /severity: a value is missing'],
  ['the prototype of all', { op: 'add', path: '/__proto__/x', value: 1 }, '"__proto__" cannot be a key'],
  ['a way that is not there', { op: 'replace', path: '/menus/hasOwnProperty', value: 1 }, 'path does not exist'],
  ['what every object has, removed', { op: 'remove', path: '/theme/toString' }, 'path does not exist'],
  ['what every object has, copied', { op: 'copy', from: '/theme/constructor', path: '/x' }, 'path does not exist'],
  ['what every object has, moved', { op: 'move', from: '/site/valueOf', path: '/x' }, 'path does not exist'],
  ['what every object has, tested', { op: 'test', path: '/theme/toString', value: 1 }, 'path does not exist'],
  ['the whole document', { op: 'replace', path: '', value: 1 }, 'path does not exist'],
]

describe('patches that were made to break what applies them', () => {
  for (const [name, operation, said] of PATCHES)
    it(`${name}: which operation it is, and what is wrong with it`, () => {
      const patch = [{ op: 'test', path: '/site/name', value: 'Test' }, operation] as unknown as Patch
      expect(() => site.with(patch))
        .to.throw(PatchError, `operation 2 of the patch: `)
        .with.property('operation', 1)
      expect(() => site.with(patch)).to.throw(PatchError, said)
      expect(Object.keys(Object.prototype)).to.deep.equal([])
    })

  it('leave the site as it was', () => {
    expect(site.site.data.site.name).to.equal('Test')
  })
})
