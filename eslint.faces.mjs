import { existsSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('.', import.meta.url))

/** A folder of core with an `index.ts` is entered through it only; nested folders have faces of their own. */
const faceOnly = {
  meta: {
    type: 'problem',
    schema: [],
    messages: { inside: 'Import the folder {{face}}, not a file inside it.' },
  },
  create(context) {
    const from = path.relative(root, context.filename)
    const check = (node) => {
      const target = fileOf(from, node.source?.value)
      const face = target && nearestFace(target)
      if (face && !from.startsWith(`${face}/`) && target !== face && target !== `${face}/index`) {
        context.report({ node, messageId: 'inside', data: { face } })
      }
    }
    return { ImportDeclaration: check, ExportNamedDeclaration: check, ImportExpression: check }
  },
}

/**
 * A face names each thing that it gives away, and gives away ten functions and constants at most; types are not
 * counted.
 */
const faceSize = {
  meta: {
    type: 'problem',
    schema: [],
    messages: {
      star: 'A face names what it exports.',
      large: 'A face exports ten functions and constants at most; this one has {{count}}.',
    },
  },
  create(context) {
    let count = 0
    return {
      ExportAllDeclaration: (node) => context.report({ node, messageId: 'star' }),
      ExportNamedDeclaration(node) {
        if (node.exportKind !== 'type') {
          count += node.specifiers.filter((specifier) => specifier.exportKind !== 'type').length
        }
      },
      'Program:exit'(node) {
        if (count > 10) {
          context.report({ node, messageId: 'large', data: { count } })
        }
      },
    }
  },
}

export const faces = { rules: { 'face-only': faceOnly, 'face-size': faceSize } }

/** The imported file without its ending, from the root; null for a package. */
function fileOf(from, text) {
  if (typeof text !== 'string') {
    return null
  }
  if (text.startsWith('~~/')) {
    return text.slice(3)
  }
  if (text.startsWith('#shared/')) {
    return `shared/${text.slice(8)}`
  }
  return text.startsWith('.') ? path.join(path.dirname(from), text) : null
}

/** The deepest folder of core around a file that has a face. */
function nearestFace(file) {
  if (!file.startsWith('core/')) {
    return null
  }
  const parts = file.split('/')
  for (let length = parts.length; length > 1; length--) {
    const folder = parts.slice(0, length).join('/')
    if (existsSync(path.join(root, folder, 'index.ts'))) {
      return folder
    }
  }
  return null
}
