import { createConnection, ProposedFeatures } from 'vscode-languageserver/node'
import { serve } from './server.js'

/** Serves an editor on standard input and output; the process ends when the editor says so, or is gone. */
export const serveStdio = (version: string): void =>
  serve(createConnection(ProposedFeatures.all, process.stdin, process.stdout), version)
