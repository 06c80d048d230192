/** The example apps that are built with Vite. */
export type App = 'workbench' | 'embed'

export interface Served {
  readonly address: string
  readonly close: () => Promise<void>
}

export function buildApp(app: App): Promise<unknown>
export function serveApp(app: App): Promise<Served>
export function buildWorkbench(): Promise<unknown>
export function serveWorkbench(): Promise<Served>
