import { saveBlob } from './save-blob'

const DRAWN = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'opacity',
  'font-size',
  'font-weight',
  'font-family',
  'text-anchor',
] as const

/** A drawing of the page as a file that stands alone: what the style sheet says is written into it. */
export function standaloneDrawing(drawing: SVGSVGElement, ground: string): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement
  const [from, to] = [
    [drawing, ...drawing.querySelectorAll('*')],
    [copy, ...copy.querySelectorAll('*')],
  ]
  from.forEach((element, index) => {
    const style = getComputedStyle(element)
    const target = to[index] as SVGElement
    target.removeAttribute('class')
    target.removeAttribute('tabindex')
    for (const name of DRAWN) {
      if (style.getPropertyValue(name)) {
        target.style.setProperty(name, style.getPropertyValue(name))
      }
    }
  })
  const [, , width, height] = (drawing.getAttribute('viewBox') ?? '0 0 400 300').split(' ')
  copy.setAttribute('width', width!)
  copy.setAttribute('height', height!)
  copy.style.background = ground
  return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(copy)}`
}

/** Gives a drawing to the person as SVG, or as PNG at three times its size. */
export async function savePicture(drawing: SVGSVGElement, name: string, how: 'svg' | 'png'): Promise<void> {
  const text = standaloneDrawing(
    drawing,
    getComputedStyle(document.documentElement).getPropertyValue('--sheet') || '#ffffff',
  )
  const svg = new Blob([text], { type: 'image/svg+xml' })
  saveBlob(how === 'svg' ? svg : await asPng(svg, drawing), `${name}.${how}`)
}

async function asPng(svg: Blob, drawing: SVGSVGElement): Promise<Blob> {
  const [, , width, height] = (drawing.getAttribute('viewBox') ?? '0 0 400 300').split(' ').map(Number) as [
    number,
    number,
    number,
    number,
  ]
  const picture = new Image()
  const url = URL.createObjectURL(svg)
  picture.src = url
  await picture.decode()
  const canvas = Object.assign(document.createElement('canvas'), { width: width * 3, height: height * 3 })
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height)
  URL.revokeObjectURL(url)
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('no picture'))), 'image/png'),
  )
}
