import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { expect, type Locator, type Page } from '@playwright/test'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

export const PASSWORD = 'boards-and-thread'

/** Signs in through the door, as a person would. */
export async function signIn(page: Page, email = 'ines@hollowmere.example'): Promise<void> {
  await page.goto('/sign-in')
  await page.getByLabel('E-mail address').fill(email)
  await page.getByLabel('Password').fill(PASSWORD)
  await page.getByRole('button', { name: 'Sign in', exact: true }).click()
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible()
}

/** Signs in past the door, where the door is not what a test is about. */
export async function enter(page: Page, path: string): Promise<void> {
  const answer = await page.request.post('/api/company/sign-in', {
    data: { email: 'ines@hollowmere.example', password: PASSWORD },
  })
  expect(answer.ok()).toBe(true)
  await page.goto(path)
}

export const row = (page: Page, table: string, text: string): Locator =>
  page.getByRole('table', { name: table }).getByRole('row').filter({ hasText: text })

export const dialog = (page: Page): Locator => page.getByRole('dialog')

/** What the last notice says. */
export const notice = (page: Page, text: string | RegExp): Locator => page.locator('[aria-live=polite]').getByText(text)

/** Scans a code: its keys follow each other at once, as a scanner sends them, however busy this machine is. */
export async function scan(page: Page, code: string): Promise<void> {
  await page.evaluate(
    (keys) => {
      for (const key of keys) {
        for (const kind of ['keydown', 'keyup']) {
          ;(document.activeElement ?? document.body).dispatchEvent(
            new KeyboardEvent(kind, { key, bubbles: true, cancelable: true }),
          )
        }
      }
    },
    [...code, 'Enter'],
  )
}

/** Chooses an item in a picker by its code. */
export async function chooseItem(scope: Page | Locator, label: string, code: string): Promise<void> {
  const field = scope.getByRole('combobox', { name: label, exact: true }).last()
  await field.click()
  await field.fill(code)
  await scope.getByRole('option').filter({ hasText: code }).first().click()
}

/** The accessibility faults that axe finds on the page as it stands (WCAG 2.2 A and AA), by all rules or one. */
export async function faults(page: Page, rule?: string): Promise<string[]> {
  await page.waitForLoadState('networkidle')
  // The pages run no script but their own; the debugger of the browser may.
  if (!(await page.evaluate('"axe" in window'))) {
    await page.evaluate(`${axe}; undefined`)
  }
  return page.evaluate(async (only) => {
    const { axe } = window as unknown as {
      axe: {
        run(
          options: object,
        ): Promise<{ violations: { id: string; nodes: { html: string; any: { message: string }[] }[] }[] }>
      }
    }
    const all = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
    const { violations } = await axe.run({ runOnly: only === undefined ? all : { type: 'rule', values: [only] } })
    return violations.map(
      (v) =>
        `${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => `${n.html.slice(0, 160)} ${n.any[0]?.message ?? ''}`)
          .join(' | ')}`,
    )
  }, rule)
}

/** Chooses from a field by the name of the choice: from a list that opens, or by typing where it is long. */
export async function choose(field: Locator, name: string | RegExp): Promise<void> {
  const isTyped = (await field.getAttribute('role')) === 'combobox'
  await field.click()
  if (isTyped && typeof name === 'string') {
    await field.fill(name)
  }
  // A unit is listed with its symbol: kilogram (kg).
  const written =
    typeof name === 'string' ? new RegExp(`^${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}( \\(|$)`) : name
  const option = field.page().getByRole('option', { name: written })
  await option.first().click()
  await expect(option).toHaveCount(0)
  // The choice gives the cursor back to its field a moment later: nobody clicks elsewhere sooner.
  if (isTyped) {
    await expect(field).toBeFocused()
  }
}

/** Expects that a field shows this choice, whether it is a list or is typed into. */
export async function expectChosen(field: Locator, name: string | RegExp): Promise<void> {
  if ((await field.getAttribute('role')) === 'combobox') {
    await expect(field).toHaveValue(name)
  } else {
    await expect(field).toHaveText(name)
  }
}
