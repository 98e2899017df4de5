/**
 * What is expected for goods that go back: a credit note; others instead of them; or that they are not invoiced in the
 * first place.
 */
export const RETURNS_EXPECT = ['credit', 'replacement', 'not invoiced'] as const
export type ReturnExpects = (typeof RETURNS_EXPECT)[number]
