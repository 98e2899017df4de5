export { issue, receive, takeBack, lineValue, type Holding, type Minor } from './moving-average'
export { shareOut } from './share-out'
export { accountOf, type AccountClass } from './accounts'
