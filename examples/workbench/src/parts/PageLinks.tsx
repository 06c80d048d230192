import { Anchor } from '@mantine/core'
import { Fragment } from 'react'
import { pageAddress } from '../session/use-route.ts'

/** Longer lists are not read. */
export const PAGES_NAMED = 40

/** The first of some pages, each as a link. */
export function PageLinks({ pages }: { readonly pages: readonly string[] }) {
  return pages.slice(0, PAGES_NAMED).map((id) => (
    <Fragment key={id}>
      <Anchor href={pageAddress(id)} mr={4} underline="always" size="sm">
        {id}
      </Anchor>{' '}
    </Fragment>
  ))
}
