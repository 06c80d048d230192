export function buildWorkbench(): Promise<unknown>
export function serveWorkbench(): Promise<{ readonly address: string; readonly close: () => Promise<void> }>
