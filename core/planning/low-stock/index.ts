export { lowStock, type LowStock } from './low-stock'
