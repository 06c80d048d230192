// Parts of packages that have types for the whole only; the whole is several times as large.

declare module '@bramus/specificity/core' {
  import type { CssNode } from 'css-tree'
  /** Specificity of a selector by Selectors 4, section 17. @throws {TypeError} When the node is no selector. */
  export function calculateForAST(selector: CssNode): {
    readonly value: { readonly a: number; readonly b: number; readonly c: number }
  }
}

declare module 'css-tree/parser' {
  import type { parse } from 'css-tree'
  const parser: typeof parse
  export default parser
}

declare module 'css-tree/walker' {
  import type { walk } from 'css-tree'
  const walker: typeof walk
  export default walker
}

declare module 'css-tree/generator' {
  import type { generate } from 'css-tree'
  const generator: typeof generate
  export default generator
}

declare module 'css-tree/utils' {
  export { ident } from 'css-tree'
}

declare module 'culori/css' {
  export { rgb } from 'culori'
}

declare module 'culori/fn' {
  export { blend, parse, wcagContrast, formatHex, formatHex8, type Rgb } from 'culori'
}
