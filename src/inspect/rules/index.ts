import { UnknownNameError } from '../../model/unknown-name.js'
import type { Rule } from '../rule.js'
import { allowUnused } from './allow-unused.js'
import { assignDangling } from './assign-dangling.js'
import { assignShadowed } from './assign-shadowed.js'
import { assignTie } from './assign-tie.js'
import { boxedIn } from './boxed-in.js'
import { builderNotForKind } from './builder-not-for-kind.js'
import { bylineStranded } from './byline-stranded.js'
import { clearanceWrong } from './clearance-wrong.js'
import { columnSqueezed } from './column-squeezed.js'
import { columnsCrushed } from './columns-crushed.js'
import { commentsOutside } from './comments-outside.js'
import { contentAtEdge } from './content-at-edge.js'
import { contentLeftOut } from './content-left-out.js'
import { contentReplaced } from './content-replaced.js'
import { copyDrifted } from './copy-drifted.js'
import { countdownOver } from './countdown-over.js'
import { drift } from './drift.js'
import { emptyPageLive } from './empty-page-live.js'
import { facetNotForKind } from './facet-not-for-kind.js'
import { footerDoubled } from './footer-doubled.js'
import { frontUnassigned } from './front-unassigned.js'
import { frontUnpublished } from './front-unpublished.js'
import { gapLeftBehind } from './gap-left-behind.js'
import { guttersDoubled } from './gutters-doubled.js'
import { headerCoversContent } from './header-covers-content.js'
import { headerDoubled } from './header-doubled.js'
import { headerTall } from './header-tall.js'
import { headerUnreadable } from './header-unreadable.js'
import { headingsOutOfOrder } from './headings-out-of-order.js'
import { headlineLost } from './headline-lost.js'
import { hiddenButLinked } from './hidden-but-linked.js'
import { itemPrintsNothing } from './item-prints-nothing.js'
import { leadImageDoubled } from './lead-image-doubled.js'
import { listingLost } from './listing-lost.js'
import { logoMargins } from './logo-margins.js'
import { maxHasNoEffect } from './max-has-no-effect.js'
import { mixedPageStarts } from './mixed-page-starts.js'
import { narrowedByPadding } from './narrowed-by-padding.js'
import { navLost } from './nav-lost.js'
import { oddOneOut } from './odd-one-out.js'
import { overflow } from './overflow.js'
import { overlayMisplaced } from './overlay-misplaced.js'
import { overrideLocked } from './override-locked.js'
import { overrideOutranked } from './override-outranked.js'
import { overrideRedundant } from './override-redundant.js'
import { overrideRepeated } from './override-repeated.js'
import { policyBroken } from './policy-broken.js'
import { redirectBroken } from './redirect-broken.js'
import { removedByBuilder } from './removed-by-builder.js'
import { screenOverrun } from './screen-overrun.js'
import { settingAsleep } from './setting-asleep.js'
import { shareImageMissing } from './share-image-missing.js'
import { sidebarDoubled } from './sidebar-doubled.js'
import { sidebarEmpty } from './sidebar-empty.js'
import { spaceUnclaimed } from './space-unclaimed.js'
import { stripUnderHeader } from './strip-under-header.js'
import { styleNotUnderstood } from './style-not-understood.js'
import { surroundUnused } from './surround-unused.js'
import { targetUnderHeader } from './target-under-header.js'
import { templateChoiceDisagrees } from './template-choice-disagrees.js'
import { templateCopies } from './template-copies.js'
import { templateNeedsBuilder } from './template-needs-builder.js'
import { templatePassedOver } from './template-passed-over.js'
import { templateUnused } from './template-unused.js'
import { textUnreadable } from './text-unreadable.js'
import { titleDoubled } from './title-doubled.js'
import { titleMissing } from './title-missing.js'
import { widthsNearlySame } from './widths-nearly-same.js'
import { yearStale } from './year-stale.js'

/** Every rule, in the order of documentation. */
const ALL = [
  headerCoversContent,
  clearanceWrong,
  headerUnreadable,
  overlayMisplaced,
  headerDoubled,
  navLost,
  targetUnderHeader,
  logoMargins,
  headerTall,
  footerDoubled,
  yearStale,
  titleDoubled,
  titleMissing,
  headlineLost,
  bylineStranded,
  headingsOutOfOrder,
  sidebarEmpty,
  sidebarDoubled,
  spaceUnclaimed,
  columnSqueezed,
  boxedIn,
  narrowedByPadding,
  maxHasNoEffect,
  overflow,
  widthsNearlySame,
  guttersDoubled,
  columnsCrushed,
  gapLeftBehind,
  stripUnderHeader,
  contentAtEdge,
  mixedPageStarts,
  screenOverrun,
  contentLeftOut,
  contentReplaced,
  templatePassedOver,
  templateChoiceDisagrees,
  removedByBuilder,
  templateCopies,
  templateNeedsBuilder,
  templateUnused,
  surroundUnused,
  copyDrifted,
  assignTie,
  assignShadowed,
  assignDangling,
  builderNotForKind,
  overrideRedundant,
  overrideOutranked,
  overrideLocked,
  settingAsleep,
  overrideRepeated,
  facetNotForKind,
  oddOneOut,
  textUnreadable,
  itemPrintsNothing,
  leadImageDoubled,
  emptyPageLive,
  countdownOver,
  frontUnassigned,
  frontUnpublished,
  listingLost,
  hiddenButLinked,
  redirectBroken,
  commentsOutside,
  shareImageMissing,
  styleNotUnderstood,
  policyBroken,
  allowUnused,
  drift,
] as const

/** The id of a rule that comes with the library. */
export type RuleId = (typeof ALL)[number]['id']

/** Every rule, in the order of the contract. */
export const RULES: readonly (Rule & { readonly id: RuleId })[] = ALL

/**
 * The rule of an id.
 *
 * @throws {UnknownNameError} When there is none.
 * @example
 * findRule('header-covers-content').severity // => 'error'
 */
export function findRule(id: string): Rule {
  const rule = RULES.find((each) => each.id === id)
  if (rule) return rule
  throw new UnknownNameError(
    'rule',
    id,
    RULES.map((each) => each.id),
    '`wembra rules` lists them',
  )
}

/** Rules as options take them: by id, or rules of one's own. @throws {UnknownNameError} For an id that there is not. */
export const rulesOf = (asked: readonly (RuleId | Rule)[]): readonly Rule[] =>
  asked.map((each) => (typeof each === 'string' ? findRule(each) : each))
