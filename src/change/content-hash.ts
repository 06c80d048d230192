import { sha256 } from '@noble/hashes/sha2.js'
import { fromByteArray } from 'base64-js'
import canonicalize from 'canonicalize'

/** A hash of bytes as Subresource Integrity writes it: `sha256-` and Base64. */
export const hashBytes = (bytes: Uint8Array): string => `sha256-${fromByteArray(sha256(bytes))}`

/** The same of a JSON value, over its canonical form (RFC 8785). */
export const hashJson = (value: unknown): string => hashBytes(new TextEncoder().encode(canonicalize(value) ?? ''))
