import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Fetched } from 'wembra/node'
import { readObservation, type Observation, type ObservationFailure } from 'wembra/reality'
import type { Answer } from './command-line.js'

export type Handler = (request: IncomingMessage, response: ServerResponse) => void

/** A small page with which nothing is wrong. */
export const PAGE = '<!doctype html><title>Tarn</title><main><h1>Tarn</h1><p>Words.</p></main>'

/** A page as it came from the web. */
export const fetched = (text: string): Fetched => ({
  url: 'https://tarn.example/a',
  status: 200,
  type: 'text/html',
  body: new TextEncoder().encode(text),
  headers: {},
})

export interface Local {
  readonly origin: string
  /** Paths that were asked for. */
  readonly asked: string[]
  readonly close: () => void
}

/** A server on a free local port that notes what it is asked for. */
export async function serveOn(handler: Handler): Promise<Local> {
  const asked: string[] = []
  const server: Server = createServer((request, response) => {
    asked.push(request.url ?? '')
    // A client that goes away is no fault of the server's.
    response.on('error', () => undefined)
    handler(request, response)
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  const close = (): void => {
    server.closeAllConnections()
    server.close()
  }
  return { origin: `http://127.0.0.1:${(server.address() as AddressInfo).port}`, asked, close }
}

export const html = (response: ServerResponse, body: string, headers: Record<string, string> = {}): void =>
  void response.writeHead(200, { 'content-type': 'text/html; charset=utf-8', ...headers }).end(body)

/** What `observe --format ndjson` told, by path. */
export function results({ out }: Answer): Record<string, Observation | ObservationFailure> {
  const lines = out.trim().split('\n')
  return Object.fromEntries(
    lines.map((line, n) => {
      const seen = readObservation(line, `line ${n + 1}`)
      return [new URL(seen.url).pathname, seen]
    }),
  )
}

export const codeOf = (seen: Observation | ObservationFailure | undefined): string =>
  seen === undefined ? 'nothing' : seen.report === 'observation' ? 'observed' : seen.code
