import { Worker, isMainThread, parentPort, workerData } from 'node:worker_threads'
import { fileURLToPath } from 'node:url'
import { loadBundled } from './bundle.mjs'

/** Runs a bench in a thread that may take what the server's own takes; answers its figures. */
export async function inThread(root, bench) {
  const { THREAD_MEMORY } = await loadBundled(root, 'server/jobs/thread-memory.ts')
  return await new Promise((resolve, reject) => {
    new Worker(fileURLToPath(import.meta.url), { workerData: { root, bench }, resourceLimits: THREAD_MEMORY })
      .once('message', resolve)
      .once('error', reject)
  })
}

if (!isMainThread) {
  parentPort.postMessage(await (await loadBundled(workerData.root, `bench/${workerData.bench}.ts`)).run())
}
