/** An icon by its own file: the package's index has six thousand, which a bundler would read for four. */
declare module '@tabler/icons-react/dist/esm/icons/*.mjs' {
  import type { Icon } from '@tabler/icons-react'
  const icon: Icon
  export default icon
}
