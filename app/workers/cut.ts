import { proposeCuts, type CuttingProblem } from '~~/core/cutting'

// Off the page's own thread: a large job takes a second or two.
self.onmessage = (event: MessageEvent<CuttingProblem>) => {
  self.postMessage(proposeCuts(event.data))
}
