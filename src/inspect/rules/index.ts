import type { Rule } from '../rule.js'
import { boxedIn } from './boxed-in.js'
import { gapLeftBehind } from './gap-left-behind.js'
import { headerCoversContent } from './header-covers-content.js'
import { sidebarEmpty } from './sidebar-empty.js'
import { styleNotUnderstood } from './style-not-understood.js'
import { titleDoubled } from './title-doubled.js'
import { titleMissing } from './title-missing.js'

/** Every rule, in the order of documentation. */
export const RULES: readonly Rule[] = [
  headerCoversContent,
  titleDoubled,
  titleMissing,
  sidebarEmpty,
  boxedIn,
  gapLeftBehind,
  styleNotUnderstood,
]
