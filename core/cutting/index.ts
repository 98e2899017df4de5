export { evaluate, proposeCuts, type CutPiece, type CuttingPlan } from './propose'
export { relax } from './relax'
export { count, type Cut, type CuttingProblem, type StockLength, type WantedLength } from './problem'
