import { parentPort, workerData } from 'node:worker_threads'

/** Asks one address again and again, in a thread of its own, and tells how long each answer took, in milliseconds. */
const { address, cookie, every } = workerData
let asking = true
parentPort.once('message', () => {
  asking = false
})
const took = []
while (asking) {
  const start = performance.now()
  // What is not answered at all counts as without end.
  const isAnswered = await fetch(address, { headers: { cookie } }).then(
    async (answer) => (await answer.arrayBuffer()) && answer.ok,
    () => false,
  )
  took.push(isAnswered ? performance.now() - start : Infinity)
  await new Promise((resolve) => setTimeout(resolve, every))
}
parentPort.postMessage(took)
