import { facetRecord, HEADLINE_PROPERTY, type Facet, type PropertyPath, type ResolvedPage } from 'wembra'
import { shortFacets } from './words.ts'

interface Props {
  readonly page: ResolvedPage
  readonly chosen: string | undefined
  readonly onChoose: (facet: Facet | undefined) => void
}

/** The six facets that a visitor meets first. */
const PRIMARY = ['header', 'footer', 'title', 'sidebar', 'width', 'spacing'] as const

/** Each of the six facets in a row: its value at each viewport, who decides, and what was overridden. */
export function FacetRows({ page, chosen, onChoose }: Props) {
  const { viewports } = page.site
  const record = facetRecord(page)
  const values = viewports.map(({ name }) => shortFacets(record[name] ?? {}))
  return (
    <div className="facet-rows">
      <table aria-label="Facets in short">
        <thead>
          <tr>
            <th scope="col">Facet</th>
            {viewports.map(({ name, width }) => (
              <th scope="col" key={name}>
                {name} {width}
              </th>
            ))}
            <th scope="col">Set by</th>
          </tr>
        </thead>
        <tbody>
          {PRIMARY.map((facet, n) => {
            const chain = page
              .at(viewports[0]?.name ?? '')
              .chain(`${facet}.${HEADLINE_PROPERTY[facet]}` as PropertyPath)
            const winner = chain.find(({ outcome }) => outcome === 'wins')
            const lost = chain.filter(({ outcome, layer }) => outcome !== 'wins' && layer !== 'baseline').length
            const isShut = chain.some(({ outcome }) => outcome === 'locked')
            return (
              <tr key={facet} className={chosen === facet ? 'is-chosen' : undefined}>
                <th scope="row">
                  <button
                    type="button"
                    className="facet-button"
                    aria-pressed={chosen === facet}
                    onClick={() => onChoose(chosen === facet ? undefined : facet)}
                  >
                    {facet}
                  </button>
                </th>
                {viewports.map(({ name }, at) => {
                  const value = values[at]?.[n] ?? ''
                  const isOther = at > 0 && value !== values[0]?.[n]
                  return (
                    <td key={name} className={isOther ? 'is-other' : undefined}>
                      {value}
                    </td>
                  )
                })}
                <td>
                  {winner?.layer ?? '–'}
                  {lost > 0 && (
                    <span className="mark">
                      {' '}
                      {isShut ? 'locks' : 'overrides'} {lost}
                    </span>
                  )}
                </td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </div>
  )
}
