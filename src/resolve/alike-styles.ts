import type { SettingPath } from '../model/facets.js'
import type { Json } from '../model/json.js'
import type { ChromePart } from './chrome-tree.js'
import type { StyleResult } from './style-layer.js'

/** What a style's result rests on: which parts are in the markup, and what the settings hold for what it was asked about. */
export class StyleRests {
  readonly #parts = new Map<ChromePart, boolean>()
  readonly #settings = new Map<SettingPath, Json>()
  readonly isIn: (part: ChromePart) => boolean
  readonly settings: (path: SettingPath) => Json

  constructor(isIn: (part: ChromePart) => boolean, settings: (path: SettingPath) => Json) {
    this.isIn = (part) => {
      const answer = isIn(part)
      this.#parts.set(part, answer)
      return answer
    }
    this.settings = (path) => {
      const answer = settings(path)
      this.#settings.set(path, answer)
      return answer
    }
  }

  /** Whether all of it is the same elsewhere. */
  isSame(isIn: (part: ChromePart) => boolean, settings: (path: SettingPath) => Json): boolean {
    for (const [part, answer] of this.#parts) if (isIn(part) !== answer) return false
    for (const [path, answer] of this.#settings) if (settings(path) !== answer) return false
    return true
  }
}

/** For how many different layouts the results of one choice of styles are kept. */
const MOST_KEPT = 16

/** Results of styles that other layouts have too: most changes of settings leave alone what styles rest on. */
export class AlikeStyles {
  readonly #kept = new Map<string, { readonly rests: StyleRests; readonly result: StyleResult }[]>()

  find(
    key: string,
    isIn: (part: ChromePart) => boolean,
    settings: (path: SettingPath) => Json,
  ): StyleResult | undefined {
    return this.#kept.get(key)?.find(({ rests }) => rests.isSame(isIn, settings))?.result
  }

  keep(key: string, rests: StyleRests, result: StyleResult): void {
    const kept = this.#kept.get(key) ?? []
    this.#kept.set(key, [{ rests, result }, ...kept].slice(0, MOST_KEPT))
  }
}
