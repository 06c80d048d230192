import './embed.css'
import { inspect, measurePage, readSite, resolveSite, type Json, type Patch } from 'wembra'
import { placesOf, previewHtml } from 'wembra/report'
import { SITE } from './site.ts'

// Read and resolved once. Each keystroke changes the page in memory, and only that page is worked out anew.
const resolved = resolveSite(readSite(SITE))

const editor = document.querySelector('form') as HTMLFormElement
const [chrome, findings] = ['chrome', 'findings'].map((id) => document.getElementById(id) as HTMLElement)
const preview = document.querySelector('iframe') as HTMLIFrameElement

/** What the form says of the page, as a JSON Patch. */
function patchOf(form: FormData): Patch {
  const text = (name: string): string => String(form.get(name) ?? '')
  const hero: Json = {
    section: 'hero',
    band: text('band'),
    padding: `${text('padding')}px 24px 24px`,
    background: { color: '#1c2333' },
    ink: '#ffffff',
    items: [{ heading: form.has('title') ? 2 : 1, text: text('heading') }, { text: text('text') }],
  }
  return [
    { op: 'add', path: '/pages/draft/body', value: [hero] },
    ...(form.has('title') ? [] : [{ op: 'add' as const, path: '/pages/draft/layout', value: { title: 'absent' } }]),
    ...(form.has('template') ? [{ op: 'add' as const, path: '/pages/draft/template', value: 'landing' }] : []),
  ]
}

function show(): void {
  const now = resolved.with(patchOf(new FormData(editor)))
  const page = now.page('draft')
  const measure = measurePage(page, 'desk')
  const header = measure.box('header')
  const { position, presence } = measure.view.header
  if (chrome)
    chrome.textContent = `Header ${presence.value}, ${position.value} (${position.chain[0]?.because ?? 'no layer sets it'}), ${header?.height ?? 0} px; the content is ${measure.box('column')?.width ?? 0} px wide.`
  const found = inspect(now, { pages: ['draft'], fixes: 'first' })
  // The page as a visitor sees it, with the worst conflict marked; every text in it is text, and nothing in it runs.
  preview.srcdoc = previewHtml(measure, { areas: found[0] ? placesOf(measure, found[0]) : [] })
  findings?.replaceChildren(
    ...found.map(({ severity, message, rule, fixes }) => {
      const item = document.createElement('li')
      item.dataset['rule'] = rule
      item.className = severity
      item.textContent = `${severity}: ${message}.${fixes[0] ? ` Fix: ${fixes[0].title}.` : ''}`
      return item
    }),
  )
  if (found.length === 0) {
    const item = document.createElement('li')
    item.textContent = 'No conflicts found.'
    findings?.append(item)
  }
}

editor.addEventListener('input', show)
editor.addEventListener('submit', (event) => event.preventDefault())
show()
