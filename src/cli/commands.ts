/** A command as help lists it. */
export interface CommandSummary {
  /** Its arguments, as help shows them. */
  readonly words: string
  readonly summary: string
}

/** Every command, by the steps of the work. */
export const COMMANDS = {
  adopt: {
    words: '<mapping> <export…> | --url <address, sitemap, folder or .ndjson…>',
    summary: 'Make a site file from another system’s export, or draft one from real pages',
  },
  check: {
    words: '[site]',
    summary: 'Find layout conflicts, most harmful first',
  },
  show: {
    words: '<page> [site]',
    summary: 'Show what a page gets, and where its boxes are',
  },
  why: {
    words: '<page> <facet[.property]> [site]',
    summary: 'Explain which setting decides a property of a page, and which ones it overrides',
  },
  table: {
    words: '[site]',
    summary: 'List all pages by facet',
  },
  uses: {
    words: '<template|surround|menu|asset> [site]',
    summary: 'List the pages that use a template, surround, menu or asset, and those that would change with it',
  },
  diff: {
    words: '<a> <b> | [site]',
    summary: 'Compare two states of a site, or preview a change: pages, facets, boxes and findings',
  },
  ways: {
    words: '<page> <facet.property=value...> [site]',
    summary: 'Suggest changes that give a page a certain layout',
  },
  fix: {
    words: '[site]',
    summary: 'Apply the fixes that are certain, in the files themselves',
  },
  css: {
    words: '[site]',
    summary: 'Write exact clearances, scroll margins and widths as a style sheet',
  },
  groups: {
    words: '[site]',
    summary: 'List the pages with the same layout, and the settings that could be set once',
  },
  draw: {
    words: '<page> [site]',
    summary: 'Draw a page as a wireframe, its viewports side by side',
  },
  open: {
    words: '[site]',
    summary: 'Open the site in the workbench, an app to look at it and change it',
  },
  observe: {
    words: '<address, sitemap, folder or .ndjson…> [site]',
    summary: 'Report where real pages differ from the site file',
  },
  snapshot: {
    words: '[site]',
    summary: 'Save what every page gives its visitors now, to compare with later',
  },
  pack: {
    words: '<template...> [site]',
    summary: 'Put templates with all that they need into one file, for another site',
  },
  unpack: {
    words: '<pack> [site]',
    summary: 'Preview what a pack would add to this site; --write adds it',
  },
  rules: {
    words: '[rule]',
    summary: 'List the rules, or explain one',
  },
  schema: {
    words: '[site|pack|mapping|observation]',
    summary: 'Print a JSON Schema (2020-12), for editors and other tools',
  },
} as const satisfies Readonly<Record<string, CommandSummary>>

export type CommandName = keyof typeof COMMANDS
