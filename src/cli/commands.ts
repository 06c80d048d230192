import type { AddCommand } from './command.js'

/** A command as help lists it; the rest is loaded when it is asked for. */
export interface CommandSummary {
  /** Its arguments, as help shows them. */
  readonly words: string
  readonly summary: string
  readonly load: () => Promise<AddCommand>
}

/** Every command, by the steps of the work. */
export const COMMANDS: Readonly<Record<string, CommandSummary>> = {
  adopt: {
    words: '<mapping> <export…> | --url <address, sitemap, folder or .ndjson…>',
    summary: 'Make a site file from another system’s export, or draft one from real pages',
    load: async () => (await import('./adopt.js')).addAdopt,
  },
  check: {
    words: '[site]',
    summary: 'Find layout conflicts, most harmful first',
    load: async () => (await import('./check.js')).addCheck,
  },
  show: {
    words: '<page> [site]',
    summary: 'Show what a page gets, and where its boxes are',
    load: async () => (await import('./show.js')).addShow,
  },
  why: {
    words: '<page> <facet[.property]> [site]',
    summary: 'Explain which setting decides a property of a page, and which ones it overrides',
    load: async () => (await import('./why.js')).addWhy,
  },
  table: {
    words: '[site]',
    summary: 'List all pages by facet',
    load: async () => (await import('./table.js')).addTable,
  },
  uses: {
    words: '<template|surround|menu|asset> [site]',
    summary: 'List the pages that use a template, surround, menu or asset, and those that would change with it',
    load: async () => (await import('./uses.js')).addUses,
  },
  diff: {
    words: '<a> <b> | [site]',
    summary: 'Compare two states of a site, or preview a change: pages, facets, boxes and findings',
    load: async () => (await import('./diff.js')).addDiff,
  },
  ways: {
    words: '<page> <facet.property=value...> [site]',
    summary: 'Suggest changes that give a page a certain layout',
    load: async () => (await import('./ways.js')).addWays,
  },
  fix: {
    words: '[site]',
    summary: 'Apply the fixes that are certain, in the files themselves',
    load: async () => (await import('./fix.js')).addFix,
  },
  css: {
    words: '[site]',
    summary: 'Write exact clearances, scroll margins and widths as a style sheet',
    load: async () => (await import('./css.js')).addCss,
  },
  groups: {
    words: '[site]',
    summary: 'List the pages with the same layout, and the settings that could be set once',
    load: async () => (await import('./groups.js')).addGroups,
  },
  draw: {
    words: '<page> [site]',
    summary: 'Draw a page as a wireframe, its viewports side by side',
    load: async () => (await import('./draw.js')).addDraw,
  },
  open: {
    words: '[site]',
    summary: 'Open the site in the workbench, an app to look at it and change it',
    load: async () => (await import('./open.js')).addOpen,
  },
  observe: {
    words: '<address, sitemap, folder or .ndjson…> [site]',
    summary: 'Report where real pages differ from the site file',
    load: async () => (await import('./observe.js')).addObserve,
  },
  snapshot: {
    words: '[site]',
    summary: 'Save what every page gives its visitors now, to compare with later',
    load: async () => (await import('./snapshot.js')).addSnapshot,
  },
  pack: {
    words: '<template...> [site]',
    summary: 'Put templates with all that they need into one file, for another site',
    load: async () => (await import('./pack.js')).addPack,
  },
  unpack: {
    words: '<pack> [site]',
    summary: 'Preview what a pack would add to this site; --write adds it',
    load: async () => (await import('./unpack.js')).addUnpack,
  },
  rules: {
    words: '[rule]',
    summary: 'List the rules, or explain one',
    load: async () => (await import('./rules.js')).addRules,
  },
  schema: {
    words: '[site|pack|mapping|observation]',
    summary: 'Print a JSON Schema (2020-12), for editors and other tools',
    load: async () => (await import('./schema.js')).addSchema,
  },
}
