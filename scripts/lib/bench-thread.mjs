import { Worker, isMainThread, parentPort, workerData } from 'node:worker_threads'
import { fileURLToPath } from 'node:url'
import { loadBundled } from './bundle.mjs'

/** Runs a bench in a thread that may take what the server's own takes; hands on each figure as it is measured. */
export async function inThread(root, bench, onFigure) {
  const { THREAD_MEMORY } = await loadBundled(root, 'server/jobs/thread-memory.ts')
  await new Promise((resolve, reject) => {
    new Worker(fileURLToPath(import.meta.url), { workerData: { root, bench }, resourceLimits: THREAD_MEMORY })
      .on('message', onFigure)
      .once('exit', resolve)
      .once('error', reject)
  })
}

if (!isMainThread) {
  const { run } = await loadBundled(workerData.root, `bench/${workerData.bench}.ts`)
  for await (const figure of run()) {
    parentPort.postMessage(figure)
  }
}
