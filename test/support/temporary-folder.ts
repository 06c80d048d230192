import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** The name under which the processes that run tests are told of the folder. */
const FOLDER = 'WEMBRA_TESTS_FOLDER'

/**
 * One folder for all temporary files of a run, removed with it. It is set once the loader has started: what that keeps
 * of compiled sources stays where it is, for the next run.
 */
const folder = (process.env[FOLDER] ??= mkdtempSync(join(tmpdir(), 'wembra-tests-')))
process.env['TMPDIR'] = folder

/** Run once, by the process that started the others; a browser may take a moment to let go of its profile. */
export const mochaGlobalTeardown = (): void =>
  rmSync(folder, { recursive: true, force: true, maxRetries: 10, retryDelay: 200 })
