import { api, ask } from '@/api/client'
import type { Picture } from './picture'

/** Gives a file to the reader under a name. */
export function give(name: string, content: Blob | string): void {
  const link = document.createElement('a')
  link.download = name
  link.href = typeof content === 'string' ? content : URL.createObjectURL(content)
  link.click()
  if (typeof content !== 'string') URL.revokeObjectURL(link.href)
}

/** A title as the name of a file. */
export const fileName = (title: string, ending: string): string =>
  `${
    title
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, '-')
      .replaceAll(/^-|-$/g, '') || 'picture'
  }.${ending}`

/** The table of a picture as a file of the server's writers, which keep text text and numbers numbers. */
export async function tableFile(picture: Picture, ending: 'csv' | 'xlsx'): Promise<void> {
  const { title, columns, rows } = picture
  const call = api.POST('/api/v1/pictures/{ending}', {
    params: { path: { ending } },
    body: { title, columns, rows },
    parseAs: 'blob',
  })
  give(fileName(title, ending), (await ask(call)) as unknown as Blob)
}

/** A picture drawn as SVG, painted twice as large as a PNG. */
export function painted(svg: string): Promise<string> {
  return new Promise((done, failed) => {
    const image = new Image()
    image.onload = () => {
      const canvas = document.createElement('canvas')
      canvas.width = image.width * 2
      canvas.height = image.height * 2
      canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
      done(canvas.toDataURL('image/png'))
    }
    image.onerror = () => failed(new Error('The picture could not be painted.'))
    image.src = svg
  })
}
