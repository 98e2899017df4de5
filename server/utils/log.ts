import { mkdirSync } from 'node:fs'
import { isMainThread } from 'node:worker_threads'
import pino, { type Logger } from 'pino'
import { createStream } from 'rotating-file-stream'

/** A log file is turned over at this size, and so many of them are kept. */
const SIZE = '10M'
const KEPT = 10

/**
 * What happened, one line of JSON each: into the folder of the setting LOG_DIR, turned over by size; without one to the
 * standard output. What went wrong also goes to the standard error, where whoever started Tsumiki sees it.
 */
export const log: Logger = openLog(process.env.LOG_DIR)

function openLog(folder: string | undefined): Logger {
  const level = process.env.LOG_LEVEL ?? 'info'
  const options = { level, base: undefined, timestamp: pino.stdTimeFunctions.isoTime, serializers: { err: asLogged } }
  if (!isMainThread) {
    // The file belongs to the program; what a thread says of problems, the program passes on.
    return pino({ ...options, level: 'silent' })
  }
  if (!folder) {
    return pino(options)
  }
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const file = createStream(`tsumiki-${process.env.ROLE ?? 'all'}.log`, {
    path: folder,
    size: SIZE,
    maxFiles: KEPT,
    mode: 0o600,
  })
  file.on('error', (error) => console.error('The log cannot be written:', error.message))
  return pino(options, pino.multistream([{ level: level as 'info', stream: file }]))
}

/** What went wrong; of a statement what the database said of it, and not the statement with what it held. */
export const reasonOf = (error: Error): string => (error.cause instanceof Error ? error.cause.message : error.message)

/** An error as it is logged: its reason and where it happened, without what a request or a statement held. */
export function asLogged(error: unknown): unknown {
  if (!(error instanceof Error)) {
    return error
  }
  const { code } = (error.cause instanceof Error ? error.cause : error) as { code?: unknown }
  const frames = error.stack?.split('\n').filter((line) => /^\s+at /.test(line))
  return { type: error.name, reason: reasonOf(error), code, at: frames?.map((line) => line.trim()) }
}

/** Something that went wrong, in words, and why; it is also said where Tsumiki was started. */
export function logProblem(what: string, error?: unknown): void {
  log.error({ err: error }, what)
  const why = error instanceof Error ? reasonOf(error) : error
  console.error(why === undefined ? what : `${what}:`, ...(why === undefined ? [] : [why]))
}
