import type { SettingPath } from '../model/facets.js'
import type { Json } from '../model/json.js'
import type { MatchedStyles, StyleResult } from './style-layer.js'

/** What a style's result rests on beside the markup: what the settings hold for what it was asked about. */
class SettingsAsked {
  readonly #answers = new Map<SettingPath, Json>()
  readonly ask: (path: SettingPath) => Json

  constructor(settings: (path: SettingPath) => Json) {
    this.ask = (path) => {
      const answer = settings(path)
      this.#answers.set(path, answer)
      return answer
    }
  }

  /** Whether all of it is the same elsewhere. */
  isSame(settings: (path: SettingPath) => Json): boolean {
    for (const [path, answer] of this.#answers) if (settings(path) !== answer) return false
    return true
  }
}

interface Kept {
  readonly asked: SettingsAsked
  readonly result: StyleResult
}

/** Styles matched with one markup, and what came of that under different settings. */
interface Alike {
  readonly matched: MatchedStyles
  kept: readonly Kept[]
}

/** For how many different settings the results of one choice of styles are kept. */
const MOST_KEPT = 16
/** For how many pages' markups and windows. */
const MOST_MATCHED = 2000

/** Results of styles that other layouts have too: most changes of settings leave alone what styles rest on. */
export class AlikeStyles {
  readonly #known = new Map<string, Alike>()

  /**
   * What styles come to under some settings.
   *
   * @param key - Names the styles, the classes that they ask for, the markup and the window.
   */
  resultOf(
    key: string,
    settings: (path: SettingPath) => Json,
    match: () => MatchedStyles,
    apply: (matched: MatchedStyles, settings: (path: SettingPath) => Json) => StyleResult,
  ): StyleResult {
    let alike = this.#known.get(key)
    if (!alike) {
      if (this.#known.size >= MOST_MATCHED) this.#known.clear()
      this.#known.set(key, (alike = { matched: match(), kept: [] }))
    }
    const known = alike.kept.find(({ asked }) => asked.isSame(settings))
    if (known) return known.result
    const asked = new SettingsAsked(settings)
    const result = apply(alike.matched, asked.ask)
    alike.kept = [{ asked, result }, ...alike.kept].slice(0, MOST_KEPT)
    return result
  }
}
