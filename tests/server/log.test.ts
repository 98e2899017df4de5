import { DrizzleQueryError } from 'drizzle-orm'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { asLogged, logProblem, reasonOf } from '~~/server/utils/log'

describe('what goes to the log', () => {
  const cause = Object.assign(new Error('permission denied for table moves'), { code: '42501', client: { host: 'db' } })
  const failed = new DrizzleQueryError('update users set password_hash = $1', ['the digest of a password'], cause)
  afterEach(() => {
    vi.restoreAllMocks()
  })

  it('is what the database said, and where; never the statement and what it held', () => {
    const text = JSON.stringify(asLogged(failed))
    expect(text).toContain('permission denied for table moves')
    expect(text).toContain('42501')
    expect(text).toContain('log.test.ts')
    expect(text).not.toMatch(/password|"client"|"db"/)
  })
  it('is said the same where Tsumiki was started', () => {
    const said = vi.spyOn(console, 'error').mockImplementation(() => undefined)
    logProblem('Clearing', failed)
    expect(said.mock.calls).toEqual([['Clearing:', 'permission denied for table moves']])
  })
  it('is the error’s own word where nothing caused it', () => {
    expect(reasonOf(new Error('The disk is full'))).toBe('The disk is full')
  })
})
