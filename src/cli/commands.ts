/** An argument of a command, as its help shows it. */
export interface Argument {
  readonly name: string
  readonly text: string
  readonly optional?: true
  /** One or more of them. */
  readonly many?: true
}

/** A command as help lists it. */
export interface CommandSummary {
  readonly group: CommandGroup
  readonly summary: string
  /** Its arguments, the site apart. */
  readonly args?: readonly Argument[]
  /** How many sites it takes; default one. */
  readonly site?: 'many' | 'none'
}

/** The steps of the work, in their order. */
export const GROUPS = ['Start', 'Look', 'Try a change', 'Fix and reuse', 'Compare with real pages', 'Look up'] as const
export type CommandGroup = (typeof GROUPS)[number]

const PAGE: Argument = { name: 'page', text: 'id of a page' }
const PAGES_TO_SEE: Argument = {
  name: 'address',
  text: 'addresses, a sitemap, a folder of HTML, or saved observations (.ndjson)',
  many: true,
}

/** Every command, by the steps of the work. */
export const COMMANDS = {
  new: {
    group: 'Start',
    summary: 'Write a small site file to start from',
    args: [{ name: 'folder', text: 'folder to write it to; default: this one', optional: true }],
    site: 'none',
  },
  draft: {
    group: 'Start',
    summary: 'Draft a site file from real pages',
    args: [PAGES_TO_SEE],
    site: 'none',
  },
  import: {
    group: 'Start',
    summary: 'Make a site file from another system’s export (JSON, CSV, XML)',
    args: [
      { name: 'mapping', text: 'mapping file: where the export has what (docs/mapping.md)' },
      { name: 'export', text: 'files of the export', many: true },
    ],
    site: 'none',
  },
  check: {
    group: 'Look',
    summary: 'Find layout conflicts in site files or on real pages, most harmful first',
    site: 'many',
  },
  show: {
    group: 'Look',
    summary: 'Show what a page gets at each viewport, and where its boxes are',
    args: [PAGE],
  },
  why: {
    group: 'Look',
    summary: 'Explain which setting decides a property of a page, and which ones it overrides',
    args: [PAGE, { name: 'property', text: 'facet or facet.property: title, header.position; or template' }],
  },
  table: {
    group: 'Look',
    summary: 'List all pages by facet',
  },
  uses: {
    group: 'Look',
    summary: 'List all templates and surrounds with their pages; or who uses one of them, a menu or an asset',
    args: [
      {
        name: 'name',
        text: 'id of a template, surround, menu or asset; or menu:primary; left out: all',
        optional: true,
      },
    ],
  },
  draw: {
    group: 'Look',
    summary: 'Draw a page as a wireframe, its viewports side by side',
    args: [{ ...PAGE, text: 'id of a page; left out with --all', optional: true }],
  },
  open: {
    group: 'Look',
    summary: 'Open the workbench: an app to look at the site and change it',
  },
  diff: {
    group: 'Try a change',
    summary: 'Preview a change, or compare two states of a site: pages, facets, boxes and findings',
    args: [
      {
        name: 'before',
        text: 'site file, git revision (HEAD~1:file), snapshot, template:<id> or surround:<id>; left out with --set',
        optional: true,
      },
      { name: 'after', text: 'the same', optional: true },
    ],
  },
  how: {
    group: 'Try a change',
    summary: 'Suggest changes that give a page a certain layout',
    args: [
      { ...PAGE, text: 'id of a page; left out with --where', optional: true },
      { name: 'property=value', text: 'what the page should get: header=absent width.mode=full', many: true },
    ],
  },
  snapshot: {
    group: 'Try a change',
    summary: 'Save what every page looks like now, to compare with later',
  },
  fix: {
    group: 'Fix and reuse',
    summary: 'Apply the fixes that are certain to the files',
  },
  css: {
    group: 'Fix and reuse',
    summary: 'Write exact clearances, scroll margins and widths as a style sheet',
  },
  groups: {
    group: 'Fix and reuse',
    summary: 'List the pages with the same layout, and the settings that could be set once',
  },
  pack: {
    group: 'Fix and reuse',
    summary: 'Put templates with everything they need into one file, for another site',
    args: [{ name: 'template', text: 'ids of templates', many: true }],
  },
  unpack: {
    group: 'Fix and reuse',
    summary: 'Preview what a pack adds to this site; --apply adds it',
    args: [{ name: 'pack', text: 'file that wembra pack wrote' }],
  },
  observe: {
    group: 'Compare with real pages',
    summary: 'Report where real pages differ from the site file',
    args: [PAGES_TO_SEE],
  },
  rules: {
    group: 'Look up',
    summary: 'List the rules, or explain one',
    args: [{ name: 'rule', text: 'id of a rule', optional: true }],
    site: 'none',
  },
  schema: {
    group: 'Look up',
    summary: 'Print a JSON Schema (2020-12), for editors and other tools',
    args: [{ name: 'what', text: 'site (default), pack, mapping or observation', optional: true }],
    site: 'none',
  },
  lsp: {
    group: 'Look up',
    summary: 'Serve editors: conflicts while you type, why, completion, renaming (Language Server Protocol)',
    site: 'none',
  },
  completion: {
    group: 'Look up',
    summary: 'Print the completion script for a shell',
    args: [{ name: 'shell', text: 'bash, zsh, fish or powershell' }],
    site: 'none',
  },
} as const satisfies Readonly<Record<string, CommandSummary>>

export type CommandName = keyof typeof COMMANDS

/** A command's arguments as its usage line shows them: `<page> <property> [site]`. */
export function usageOf({ args = [], site }: CommandSummary): string {
  const words = args.map(({ name, optional, many }) => {
    const text = many ? `${name}…` : name
    return optional ? `[${text}]` : `<${text}>`
  })
  const last = site === 'none' ? [] : [site === 'many' ? '[site…]' : '[site]']
  return [...words, ...last].join(' ')
}
