import { existsSync, readdirSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { ESLint } from 'eslint'
import ts from 'typescript'
import { describe, expect, it } from 'vitest'
import { EXCEPTIONS } from '../../eslint.exceptions.mjs'

const eslint = new ESLint()
const complaints = async (filePath: string, code: string): Promise<string[]> => {
  const [result] = await eslint.lintText(code, { filePath })
  return result!.messages.map((m) => m.ruleId ?? m.message).filter((rule) => /restricted|boundaries|faces/.test(rule))
}

describe('no import goes up a floor', () => {
  it.each([
    ['core/units/wrong.ts', '~~/shared/primitives'],
    ['core/units/wrong.ts', '../../server/database/client'],
    ['core/units/wrong.ts', 'vue'],
    ['core/units/wrong.ts', 'drizzle-orm'],
    ['core/units/wrong.ts', 'node:fs'],
    ['shared/wrong.ts', '~~/server/ledger/post'],
    ['shared/wrong.ts', '../app/composables/use-act'],
    ['server/services/stock/wrong.ts', '~/composables/use-act'],
    ['server/services/stock/wrong.ts', '~~/app/stores/session'],
    ['app/composables/wrong.ts', '~~/server/database/client'],
    ['app/components/wrong.vue', '~~/server/ledger/post'],
  ])('%s may not import %s', async (file, from) => {
    const code = `import { x } from '${from}'\nexport const y = x\n`
    expect(
      await complaints(
        file,
        file.endsWith('.vue')
          ? `<script setup lang="ts">\n${code.replace('export ', '')}void y\n</script>\n\n<template>\n  <p />\n</template>\n`
          : code,
      ),
    ).not.toEqual([])
  })
  it.each([
    ['app/composables/right.ts', '~~/core/units/exact'],
    ['server/services/stock/right.ts', '~~/shared/stock/requests'],
    ['shared/right.ts', '~~/core/calendar/days'],
    ['core/planning/right.ts', '../units/exact'],
  ])('%s may import %s', async (file, from) => {
    expect(await complaints(file, `import { x } from '${from}'\nexport const y = x\n`)).toEqual([])
  })
})

describe('a folder of core is entered through its face', () => {
  it.each([
    ['core/planning/netting/wrong.ts', '../sizing/least-cost'],
    ['core/planning/wrong.ts', './netting/net-node'],
    ['server/services/stock/wrong.ts', '~~/core/stock/pick'],
    ['app/composables/planning/wrong.ts', '~~/core/planning/what-if/figures'],
    ['tests/planning/wrong.ts', '~~/core/units/exact/ratio'],
  ])('%s may not import %s', async (file, from) => {
    expect(await complaints(file, `import { x } from '${from}'\nexport const y = x\n`)).toEqual(['faces/face-only'])
  })

  it.each([
    ['core/planning/netting/right.ts', './net-node'],
    ['core/planning/netting/right.ts', '../sizing'],
    ['core/structure/right.ts', './roll-ups'],
    ['server/services/stock/right.ts', '~~/core/stock/levels'],
  ])('%s may import %s', async (file, from) => {
    expect(await complaints(file, `import { x } from '${from}'\nexport const y = x\n`)).toEqual([])
  })
})

describe('a face says what it gives away', () => {
  const named = (count: number): string => Array.from({ length: count }, (_, index) => `part${index}`).join(', ')

  it.each([
    ['everything of a file', `export * from './some'\n`, ['faces/face-size']],
    ['eleven functions', `export { ${named(11)} } from './some'\n`, ['faces/face-size']],
    ['ten functions', `export { ${named(10)} } from './some'\n`, []],
    ['ten functions and their types', `export { ${named(10)}, type Some } from './some'\n`, []],
  ])('%s', async (_, code, expected) => {
    expect(await complaints('core/stock/index.ts', code)).toEqual(expected)
  })
})

describe('files that are larger than the rules allow', () => {
  it('are twelve at most, each there and with its reason', () => {
    expect(EXCEPTIONS.length).toBeLessThanOrEqual(12)
    for (const { file, rules, reason } of EXCEPTIONS) {
      expect([file, existsSync(new URL(`../../${file}`, import.meta.url))]).toEqual([file, true])
      expect([file, rules.length > 0, reason.length > 20]).toEqual([file, true, true])
    }
  })
})

describe('the face of a folder of core', () => {
  it('says in words what each of its exports is', () => {
    const root = fileURLToPath(new URL('../..', import.meta.url))
    const faces = readdirSync(path.join(root, 'core'), { recursive: true, encoding: 'utf8' })
      .filter((file) => path.basename(file) === 'index.ts')
      .map((file) => path.join(root, 'core', file))
    const program = ts.createProgram(faces, {
      module: ts.ModuleKind.ESNext,
      moduleResolution: ts.ModuleResolutionKind.Bundler,
      target: ts.ScriptTarget.ESNext,
      skipLibCheck: true,
    })
    const checker = program.getTypeChecker()
    const silent = faces.flatMap((face) =>
      checker.getExportsOfModule(checker.getSymbolAtLocation(program.getSourceFile(face)!)!).flatMap((named) => {
        const symbol = named.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(named) : named
        return symbol.getDocumentationComment(checker).length === 0
          ? [`${path.relative(root, face)}: ${named.name}`]
          : []
      }),
    )
    expect(faces.length).toBeGreaterThan(20)
    expect(silent).toEqual([])
  })
})
