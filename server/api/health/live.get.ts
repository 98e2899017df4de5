/** Whether the program runs at all. */
export default defineEventHandler(() => ({ live: true }))
