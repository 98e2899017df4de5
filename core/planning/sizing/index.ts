export { buyingQuantity, orderable, timesFor } from './document-quantity'
export { leastCostOrders, type Requirement } from './least-cost'
export { splitOrder, upToMultiple } from './order-size'
