import { describe, expect, it } from 'vitest'
import { withDemo, onHand } from './database'

withDemo()
describe('the demo', () => {
  it('loads', async () => { expect(await onHand('CLOTH-NAVY')).toBe('1.2') })
})
