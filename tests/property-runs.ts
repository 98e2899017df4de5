/**
 * How often a property is tried: as often as written in a whole run, a tenth of it while a change is being written
 * (`npm run check`). A property that fails prints its seed and path; `fc.assert(…, { seed, path })` runs just that case
 * again.
 */
export const runs = (whole: number): number => (process.env.QUICK_PROPERTIES ? Math.ceil(whole / 10) : whole)
