import type { Store } from './store.js'
export const TABLES = ['entries'] as const
export type TableName = (typeof TABLES)[number]
export const exportJson = (_s: Store): object => ({})
export const exportXml = (_s: Store): string => ''
export const exportCsv = (_s: Store, _t: TableName): string => ''
