import { toJsxRuntime } from 'hast-util-to-jsx-runtime'
import { memo, useMemo } from 'react'
import { Fragment, jsx, jsxs } from 'react/jsx-runtime'
import { measurePage, type PageMeasure, type ResolvedPage, type ViewportChoice } from 'wembra'
import { wireframeTree, type Mark, type WireframeOptions } from 'wembra/report'

interface Props {
  readonly page: ResolvedPage
  readonly at: readonly ViewportChoice[]
  readonly width?: number
  readonly labels?: boolean
  readonly marks?: readonly Mark[]
  readonly idPrefix?: string
}

const NO_MARKS: readonly Mark[] = []

/** A page's boxes in true proportion. */
export const Drawing = memo(function Drawing({
  page,
  at,
  width = 1100,
  labels = true,
  marks = NO_MARKS,
  idPrefix = '',
}: Props) {
  const tree = useMemo(() => {
    const options: WireframeOptions = { width, heading: false, labels, marks, idPrefix }
    return toJsxRuntime(
      wireframeTree(
        at.map((viewport): PageMeasure => measurePage(page, viewport)),
        options,
      ),
      { Fragment, jsx, jsxs },
    )
  }, [page, at, width, labels, marks, idPrefix])
  return (
    <div className="drawing" tabIndex={0} role="group" aria-label={`Drawing of ${page.id}`}>
      {tree}
    </div>
  )
})
