export { figuresOf, nearTiers, demandsAtRisk, type PlanFigures } from './figures'
export { LivePlan } from './live-plan'
export { applyWhatIf, type WhatIf } from './what-if'
