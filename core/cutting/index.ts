export { count, type CuttingProblem } from './problem'
export { evaluate, proposeCuts, type CutPiece, type CuttingPlan } from './propose'
export { relax } from './relax'
