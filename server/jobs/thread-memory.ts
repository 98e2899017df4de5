/**
 * What the thread of a plan may take, MiB: most of what a plan makes lives as long as the plan, and a small nursery
 * would copy it again and again.
 */
export const THREAD_MEMORY = { maxYoungGenerationSizeMb: 128, maxOldGenerationSizeMb: 4096 }
