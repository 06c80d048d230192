// Writes the types that come from schemas out in full, so that who installs the library needs no schema library for them.
import { readFileSync, writeFileSync } from 'node:fs'
import { dirname, relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import ts from 'typescript'

const root = fileURLToPath(new URL('..', import.meta.url))
const FILES = ['model/schema', 'reality/mapping', 'reality/observation', 'change/pack-format'].map(
  (name) => `${root}dist/${name}.d.ts`,
)
const FROM_SCHEMAS = /from '#vendor\/[\w-]+\.js'/

function writeOut(files) {
  const program = ts.createProgram([...files, `${root}types/vendor.d.ts`], {
    module: ts.ModuleKind.NodeNext,
    moduleResolution: ts.ModuleResolutionKind.NodeNext,
    target: ts.ScriptTarget.ES2023,
    strict: true,
    exactOptionalPropertyTypes: true,
    skipLibCheck: true,
    types: [],
  })
  // All is printed before anything is written: the types refer to one another.
  const texts = files.map((file) => [file, new Printer(program, program.getSourceFile(file)).text()])
  for (const [file, text] of texts) {
    if (/\bz\.|#vendor/.test(text)) throw new Error(`${file} still rests on the schema library`)
    writeFileSync(file, text)
  }
}

class Printer {
  #checker
  #file

  constructor(program, file) {
    this.#checker = program.getTypeChecker()
    this.#file = file
  }

  text() {
    const lines = this.#file.statements.flatMap((statement) => this.#statement(statement))
    return `${lines.join('\n')}\n`
  }

  #statement(statement) {
    const text = statement.getFullText(this.#file).trim()
    const isExported = ts.getModifiers(statement)?.some(({ kind }) => kind === ts.SyntaxKind.ExportKeyword)
    if (ts.isImportDeclaration(statement)) return FROM_SCHEMAS.test(text) ? [] : [text]
    if (!/\bz\./.test(text)) return [text]
    const doc = text.startsWith('/**') ? `${text.slice(0, text.indexOf('*/') + 2)}\n` : ''
    if (ts.isFunctionDeclaration(statement)) {
      const parameters = statement.parameters.map((each) => each.getText(this.#file)).join(', ')
      return [`${doc}export declare function ${statement.name.text}(${parameters}): unknown;`]
    }
    if (!isExported) return []
    const type = this.#checker.getTypeAtLocation(statement.name)
    if (ts.isTypeAliasDeclaration(statement))
      return [`${doc}export type ${statement.name.text} = ${this.#type(type, statement.name.text, '')};`]
    if (ts.isInterfaceDeclaration(statement))
      return [`${doc}export interface ${statement.name.text} ${this.#object(type, '')}`]
    throw new Error(`${this.#file.fileName}: ${text.slice(0, 80)}: no way to write it out`)
  }

  /** How a type of ours is named in this file; `undefined` for one without a name, or of the schema library. */
  #nameOf(type) {
    const symbol = type.aliasSymbol ?? (type.isClassOrInterface() ? type.symbol : undefined)
    const declared = symbol?.declarations?.[0]?.getSourceFile().fileName
    // Such as Partial and Record.
    if (declared && /\/lib\.[\w.]+\.d\.ts$/.test(declared) && type.aliasSymbol) return symbol.name
    if (!declared?.startsWith(`${root}dist/`)) return undefined
    const path = relative(dirname(this.#file.fileName), declared).replace(/\.d\.ts$/, '.js')
    const inScope = this.#checker.getSymbolsInScope(this.#file, ts.SymbolFlags.Type | ts.SymbolFlags.Alias)
    const isHere =
      declared === this.#file.fileName ||
      inScope.some(({ name, flags }) => name === symbol.name && flags & ts.SymbolFlags.Alias)
    return isHere ? symbol.name : `import('${path.startsWith('.') ? path : `./${path}`}').${symbol.name}`
  }

  #type(type, but, indent) {
    const checker = this.#checker
    const name = this.#nameOf(type)
    if (name !== undefined && name !== but) {
      const args = (type.aliasTypeArguments ?? []).map((each) => this.#type(each, '', indent))
      return args.length > 0 ? `${name}<${args.join(', ')}>` : name
    }
    if (type.isUnion()) {
      const isPlain = type.types.every((each) => !(each.flags & ts.TypeFlags.Object))
      if (isPlain) return checker.typeToString(type, undefined, ts.TypeFormatFlags.NoTruncation)
      return type.types.map((each) => this.#type(each, '', indent)).join(' | ')
    }
    if (type.isIntersection()) return type.types.map((each) => this.#type(each, '', indent)).join(' & ')
    if (!(type.flags & ts.TypeFlags.Object))
      return checker.typeToString(type, undefined, ts.TypeFormatFlags.NoTruncation)
    if (checker.isTupleType(type))
      return `[${checker
        .getTypeArguments(type)
        .map((each) => this.#type(each, '', indent))
        .join(', ')}]`
    if (checker.isArrayType(type)) {
      const [element] = checker.getTypeArguments(type)
      const isReadonly = type.symbol.name === 'ReadonlyArray'
      return `${isReadonly ? 'readonly ' : ''}(${this.#type(element, '', indent)})[]`
    }
    return this.#object(type, indent)
  }

  #object(type, indent) {
    const checker = this.#checker
    const inner = `${indent}  `
    const indices = checker.getIndexInfosOfType(type).map(({ keyType, type: value, isReadonly }) => {
      const key = checker.typeToString(keyType)
      return `${inner}${isReadonly ? 'readonly ' : ''}[key: ${key}]: ${this.#type(value, '', inner)};`
    })
    const properties = checker.getPropertiesOfType(type).map((property) => {
      const doc = ts.displayPartsToString(property.getDocumentationComment(checker)).replaceAll('\n', ' ')
      const optional = property.flags & ts.SymbolFlags.Optional ? '?' : ''
      const key = /^[A-Za-z_$][\w$]*$/.test(property.name) ? property.name : JSON.stringify(property.name)
      const value = this.#type(checker.getTypeOfSymbol(property), '', inner)
      return `${doc ? `${inner}/** ${doc} */\n` : ''}${inner}${key}${optional}: ${value};`
    })
    return `{\n${[...indices, ...properties].join('\n')}\n${indent}}`
  }
}

const work = FILES.filter((file) => FROM_SCHEMAS.test(readFileSync(file, 'utf8')))
if (work.length > 0) writeOut(work)
