/** What other programs can be told of. */
export const HOOK_EVENTS = ['stock', 'orders', 'receipts', 'builds', 'shipments'] as const
export type HookEvent = (typeof HOOK_EVENTS)[number]
export const HOOK_EVENT_WORDS: Readonly<Record<HookEvent, string>> = {
  stock: 'Stock: every posting, with what moved',
  orders: 'Orders: sales and purchase orders, as they are made and changed',
  receipts: 'Receipts: goods received',
  builds: 'Builds: components issued, output received, kits packed',
  shipments: 'Shipments',
}

/** How a piece of background work stands. */
export const WORK_STATES = ['waiting', 'again', 'running', 'done', 'stopped', 'failed'] as const
export type WorkState = (typeof WORK_STATES)[number]
export const WORK_STATE_WORDS: Readonly<Record<WorkState, string>> = {
  waiting: 'waits',
  again: 'is tried again',
  running: 'runs',
  done: 'done',
  stopped: 'stopped',
  failed: 'failed',
}
