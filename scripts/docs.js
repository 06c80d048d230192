// Makes docs/rules/ from the rules themselves.
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { ruleMarkdown, rulesMarkdown } from '../dist/draw/index.js'
import { RULES } from '../dist/index.js'

const folder = new URL('../docs/rules/', import.meta.url).pathname
const pages = new Map(RULES.map((rule) => [`${rule.id}.md`, ruleMarkdown(rule)]))
pages.set('README.md', rulesMarkdown(RULES))
mkdirSync(folder, { recursive: true })
const stale = readdirSync(folder).filter((name) => !pages.has(name))
for (const name of stale) rmSync(folder + name)
for (const [name, text] of pages) writeFileSync(folder + name, text)
console.log(`${pages.size} pages in docs/rules`)
