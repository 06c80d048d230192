// Packages that are packed with the library, as `scripts/bundle.js` puts them there.
declare module '#vendor/jsonc-parser.js' {
  export { getLocation, parseTree, printParseErrorCode, type Node, type ParseError } from 'jsonc-parser'
}

declare module '#vendor/zod.js' {
  export * from 'zod'
}

declare module '#vendor/zod-mini.js' {
  export * from 'zod/mini'
}

declare module '#vendor/json-schema.js' {
  export { toJSONSchema } from 'zod/mini'
}
