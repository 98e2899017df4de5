import { isIsoDate } from '../../calendar/days'
import { ok, refuse, type Result } from '../../result'
import type { PlanInput } from './input'

export type InputError = { readonly code: 'malformed'; readonly path: string; readonly wanted: string }

type Form = 'text' | 'day' | 'steps' | readonly [Form] | { readonly [key: string]: Form }

const NODE: Form = { id: 'text', safety: 'steps', onHand: [{ quantity: 'steps' }], source: { kind: 'text' } }
const SHAPE: Form = {
  start: 'day',
  end: 'day',
  nodes: [NODE],
  demands: [{ id: 'text', node: 'text', day: 'day', quantity: 'steps', kind: 'text' }],
  supplies: [{ id: 'text', node: 'text', day: 'day', quantity: 'steps', kind: 'text' }],
}
const WANTED = { text: 'text', day: 'a date such as 2026-10-05', steps: 'a whole number from 0 to 2^53' } as const

/**
 * Checks a snapshot that came from a file, before it is planned on.
 *
 * Errors: `malformed` (the path of the first wrong value, and what is wanted there).
 */
export function checkInput(data: unknown): Result<PlanInput, InputError> {
  const wrong = firstWrong(data, SHAPE, '')
  return wrong ? refuse({ code: 'malformed', ...wrong }) : ok(data as PlanInput)
}

function firstWrong(value: unknown, shape: Form, path: string): { path: string; wanted: string } | null {
  if (typeof shape === 'string') {
    return fits(value, shape) ? null : { path, wanted: WANTED[shape] }
  }
  if (Array.isArray(shape)) {
    if (!Array.isArray(value)) {
      return { path, wanted: 'a list' }
    }
    for (const [index, entry] of value.entries()) {
      const wrong = firstWrong(entry, (shape as readonly [Form])[0], `${path}[${index}]`)
      if (wrong) {
        return wrong
      }
    }
    return null
  }
  if (typeof value !== 'object' || value === null) {
    return { path: path || 'the file', wanted: 'an object' }
  }
  for (const [key, inner] of Object.entries(shape)) {
    const wrong = firstWrong((value as Record<string, unknown>)[key], inner as Form, path ? `${path}.${key}` : key)
    if (wrong) {
      return wrong
    }
  }
  return null
}

function fits(value: unknown, shape: 'text' | 'day' | 'steps'): boolean {
  if (shape === 'steps') {
    return Number.isSafeInteger(value) && (value as number) >= 0
  }
  return typeof value === 'string' && (shape !== 'day' || isIsoDate(value))
}
