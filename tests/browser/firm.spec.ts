import { execFileSync, spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { expect, request as requests, test, type APIRequestContext } from '@playwright/test'
import { PASSWORD } from './helpers'
import { ownFolder, scripts, type Cluster, type Server } from './own-server'

/*
 * As a firm with more than one machine has it: a proxy that speaks TLS in front, as docs/running.md writes it; two
 * servers for people, and a program that works in the background, on one database.
 */
test.describe.configure({ mode: 'serial' })

let cluster: Cluster
let place: { folder: string; clear(): void }
const running: Server[] = []
test.beforeAll(async () => {
  place = ownFolder('firm')
  cluster = await (await scripts()).startPostgres({ root: place.folder })
})
test.afterEach(async () => {
  for (const server of running.splice(0)) {
    await server.stop()
  }
})
test.afterAll(async () => {
  await cluster.stop()
  place.clear()
})

async function serve(env: Record<string, string>): Promise<{ base: string; server: Server }> {
  const { startServer, freePort } = await scripts()
  const port = await freePort()
  const server = await startServer({
    root: process.cwd(),
    port,
    ...cluster.urls('firm'),
    sessionPassword: 'a throw-away password of the firm test',
    begin: 'demo',
    env,
    stdio: ['ignore', 'ignore', 'ignore'],
  })
  running.push(server)
  return { base: `http://127.0.0.1:${port}`, server }
}
async function signedIn(base: string): Promise<APIRequestContext> {
  const context = await requests.newContext({ baseURL: base })
  const answer = await context.post('/api/company/sign-in', {
    data: { email: 'ines@hollowmere.example', password: PASSWORD },
  })
  expect(answer.ok()).toBe(true)
  return context
}
interface Run {
  readonly id: number
  readonly state: string
}
const newPlan = { name: 'Of the firm', kind: 'trial', endsOn: '2026-12-31', demandRule: 'orders only' }
const stateAt = async (context: APIRequestContext, id: number): Promise<string> =>
  ((await (await context.get(`/api/planning/plans/${id}/run`)).json()) as Run).state

test('two servers for people and a worker: a session counts on both, and the worker alone computes', async () => {
  test.setTimeout(180_000)
  const first = await serve({ ROLE: 'web' })
  const second = await serve({ ROLE: 'web' })
  const person = await signedIn(first.base)
  const { cookies } = await person.storageState()
  const elsewhere = await requests.newContext({
    baseURL: second.base,
    extraHTTPHeaders: { cookie: cookies.map(({ name, value }) => `${name}=${value}`).join('; ') },
  })
  expect((await elsewhere.get('/api/today')).status()).toBe(200)

  const { id } = (await (await person.post('/api/planning/plans', { data: newPlan })).json()) as Run
  expect(await stateAt(elsewhere, id)).toBe('waiting')
  const worker = await serve({ ROLE: 'worker' })
  await expect.poll(() => stateAt(elsewhere, id), { timeout: 30_000 }).toBe('done')
  // It tells how it is, and nothing else.
  expect((await fetch(`${worker.base}/api/health/ready`)).status).toBe(200)
  expect((await fetch(`${worker.base}/api/today`)).status).toBe(404)

  // Killed under way, another begins it anew.
  await Promise.all(Array.from({ length: 5 }, () => person.post(`/api/planning/plans/${id}/run`)))
  process.kill(worker.server.child.pid!, 'SIGKILL')
  await elsewhere.post(`/api/planning/plans/${id}/run`)
  await serve({ ROLE: 'worker' })
  await expect.poll(() => stateAt(person, id), { timeout: 60_000 }).toBe('done')
})

test('behind nginx with TLS, by the lines of the guide: cookies are secure, and who asks is who asked', async ({
  browser,
}) => {
  test.setTimeout(180_000)
  const { freePort } = await scripts()
  const tls = await freePort()
  const address = `https://127.0.0.1:${tls}`
  const { base } = await serve({ PUBLIC_URL: address, TRUST_PROXY: 'yes' })
  const folder = path.join(place.folder, 'nginx')
  mkdirSync(folder)
  const [key, certificate] = [path.join(folder, 'stock.key'), path.join(folder, 'stock.pem')]
  const words = ['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '2', '-subj', '/CN=stock.example']
  execFileSync('openssl', [...words, '-keyout', key, '-out', certificate], { stdio: 'ignore' })
  const [block] = /^server \{[\s\S]*?^\}/m.exec(readFileSync('docs/running.md', 'utf8'))!
  const site = block
    .replace('listen 443 ssl', `listen 127.0.0.1:${tls} ssl`)
    .replace('/etc/ssl/stock.pem', certificate)
    .replace('/etc/ssl/stock.key', key)
    .replace('http://127.0.0.1:3000', base)
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
    (name) => `${name}_temp_path ${folder}/${name};`,
  )
  const config = path.join(folder, 'nginx.conf')
  writeFileSync(
    config,
    `daemon off; pid ${folder}/pid; error_log ${folder}/error.log; events {} http { access_log off; ${temporary.join(' ')} ${site} }`,
  )
  const proxy = spawn('/usr/sbin/nginx', ['-c', config, '-p', folder], { stdio: 'ignore' })
  try {
    const context = await browser.newContext({ ignoreHTTPSErrors: true, baseURL: address })
    const page = await context.newPage()
    await expect(async () => {
      await page.goto('/sign-in')
    }).toPass({ timeout: 30_000 })
    await page.getByLabel('E-mail address').fill('ines@hollowmere.example')
    await page.getByLabel('Password').fill(PASSWORD)
    await page.getByRole('button', { name: 'Sign in', exact: true }).click()
    await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
    expect((await context.cookies()).map(({ secure, httpOnly }) => [secure, httpOnly])).toEqual([[true, true]])
    const answer = await page.request.get('/api/company/session')
    expect(answer.headers()['strict-transport-security']).toContain('max-age=31536000')
    // What somebody writes into the header themselves does not count: the proxy's own word is the last.
    await page.request.post('/api/company/sign-in', {
      data: { email: 'ines@hollowmere.example', password: 'not this one' },
      headers: { 'x-forwarded-for': '203.0.113.9' },
    })
    const audit = (await (await page.request.get('/api/company/audit?size=1')).json()) as {
      rows: { address: string }[]
    }
    expect(audit.rows[0]!.address).toBe('127.0.0.1')
    // A page of another origin changes nothing, though its request comes through the proxy.
    const foreign = await page.request.post('/api/company/me/calendar', { headers: { origin: 'https://evil.example' } })
    expect(foreign.status()).toBe(403)
  } finally {
    proxy.kill('SIGTERM')
  }
})

test('the unit of the service is one that systemd takes, and the doctor finds everything in order', async () => {
  test.setTimeout(120_000)
  const root = process.cwd()
  const unit = path.join(root, 'tsumiki.service')
  const before = existsSync(unit)
  try {
    expect(execFileSync(process.execPath, ['scripts/service.mjs'], { encoding: 'utf8' })).toContain('systemctl enable')
    expect(readFileSync(unit, 'utf8')).toContain(`WorkingDirectory=${root}`)
    if (existsSync('/usr/bin/systemd-analyze')) {
      const { stderr } = spawnSync('systemd-analyze', ['verify', unit], { encoding: 'utf8' })
      expect(stderr.split('\n').filter((line) => line.includes('tsumiki'))).toEqual([])
    }
  } finally {
    if (!before) {
      rmSync(unit, { force: true })
    }
  }
  const { databaseUrl: DATABASE_URL, ownerUrl: DATABASE_OWNER_URL } = cluster.urls('firm')
  const { stdout, status } = spawnSync(process.execPath, ['scripts/doctor.mjs'], {
    encoding: 'utf8',
    env: { ...process.env, DATABASE_URL, DATABASE_OWNER_URL },
  })
  expect(stdout).toContain('in order      Ledger: Now every quantity and value agreed with the moves.')
  expect(stdout).toContain('in order      Rights in the database')
  expect([status, stdout.includes('NOT IN ORDER')]).toEqual([0, false])
})
