// Packages that are packed with the library, as `scripts/bundle.js` puts them there.
declare module '#vendor/jsonc-parser.js' {
  export { parseTree, printParseErrorCode, type Node, type ParseError } from 'jsonc-parser'
}
