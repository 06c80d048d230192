/** Whether an address is that of the front page. */
export function leadsHome(link: Element): boolean {
  const href = link.getAttribute('href')
  if (href === null) return false
  try {
    const { pathname, origin, search } = new URL(href, link.ownerDocument.baseURI)
    return (
      pathname === '/' &&
      search === '' &&
      origin === new URL(link.ownerDocument.baseURI).origin &&
      !href.startsWith('#')
    )
  } catch {
    return href === '/'
  }
}
