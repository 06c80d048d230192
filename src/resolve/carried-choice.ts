import equal from 'fast-deep-equal'
import { own } from '../model/json.js'
import type { SiteData } from '../model/schema.js'
import type { PageCore } from './page.js'
import { changedIds, changedTemplates, isLed, type SiteState } from './reach.js'

/** What was known of pages in an earlier state, as far as facts and the choice of a template are as they were. */
export type EarlierCore = (id: string) => PageCore | undefined

/**
 * Whether a change leaves alone all that decides what selectors ask of pages and which template they get, so that pages
 * which are themselves as they were need not be asked again.
 *
 * @param edited - Pages whose own data changed, came or went.
 */
export function keepsChoices(before: SiteState, after: SiteState, edited: ReadonlySet<string>): boolean {
  const [a, b] = [before.site.data, after.site.data]
  const [old, now] = [before.prepared, after.prepared]
  return (
    a.choose === b.choose &&
    a.extensions === b.extensions &&
    a.theme.template === b.theme.template &&
    old.assignments === now.assignments &&
    old.purposes === now.purposes &&
    keeps(a, b, 'kinds', ({ template, from }) => [template, from]) &&
    keeps(a, b, 'builders', ({ template, from, kinds }) => [template, from, kinds]) &&
    changedTemplates(old.templates, now.templates).choices.size === 0 &&
    ![...edited].some((id) => isLed(before.site, after.site, id))
  )
}

type Chooser = { readonly template?: string; readonly from?: string; readonly kinds?: readonly string[] }

function keeps(a: SiteData, b: SiteData, section: 'kinds' | 'builders', deciding: (each: Chooser) => unknown): boolean {
  return changedIds(a[section], b[section]).every((id) => {
    const [old, now] = [own(a[section] as Choosers, id), own(b[section] as Choosers, id)]
    return old !== undefined && now !== undefined && equal(deciding(old), deciding(now))
  })
}

type Choosers = Readonly<Record<string, Chooser>> | undefined
