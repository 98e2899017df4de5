import type { Right } from '../company/rights'
import type { HookEvent, WorkState } from './words'

/** A key by which a script signs in, as its owner sees it afterwards. */
export interface ApiKeyRow {
  readonly id: number
  readonly name: string
  /** How it begins, so that it is known again. */
  readonly beginning: string
  readonly rights: readonly Right[]
  /** Who made it: what is done by it is done for them. */
  readonly who: string
  readonly madeAt: string
  readonly expiresOn: string | null
  readonly usedAt: string | null
  readonly usedFrom: string
  readonly endedAt: string | null
}

export interface HookRow {
  readonly id: number
  readonly name: string
  readonly url: string
  readonly events: readonly HookEvent[]
  readonly active: boolean
  readonly version: number
  readonly waiting: number
  readonly failed: number
  readonly deliveredAt: string | null
  /** What went wrong last; empty where nothing did since. */
  readonly problem: string
}

/** One call of a web hook, and what came of it. */
export interface HookCallRow {
  readonly id: number
  readonly event: HookEvent
  readonly about: string
  readonly state: 'waiting' | 'delivered' | 'failed'
  readonly tries: number
  readonly status: number | null
  readonly problem: string
  readonly at: string
  readonly deliveredAt: string | null
}

/** One piece of background work. */
export interface WorkRow {
  readonly id: string
  readonly queue: string
  /** What it is, in words. */
  readonly name: string
  /** Of what: a plan's name, a letter's subject, a web hook. */
  readonly about: string
  readonly state: WorkState
  readonly askedAt: string
  readonly begunAt: string | null
  readonly endedAt: string | null
  readonly tries: number
  readonly phase: string
  readonly percent: number
  readonly problem: string
}

/** One thing that has to be in order, how it is, and what to do where it is not. */
export interface Check {
  readonly name: string
  readonly state: 'good' | 'look' | 'bad'
  readonly said: string
  readonly remedy: string
}
