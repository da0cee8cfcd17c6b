import type { FileKind, WorkPartOut } from '@/api/schema'
import { fileSize, several } from '@/design/format'

/** What each kind of file is called. */
export const KINDS: Record<FileKind, string> = {
  text: 'text',
  markdown: 'Markdown',
  table: 'table',
  document: 'document',
  pdf: 'PDF',
  picture: 'picture',
  audio: 'recording',
  video: 'film',
  other: 'file',
}

/** What a part is called where several stand beside each other. */
export function nameOfPart(part: WorkPartOut): string {
  if (part.kind === 'text') return part.file_name ?? 'Text'
  if (part.kind === 'file') return part.file_name ?? 'File'
  try {
    return new URL(part.text).hostname
  } catch {
    return 'Link'
  }
}

/** How much a part is. */
export function sizeOfPart(part: WorkPartOut): string {
  if (part.words !== null) return several(part.words, 'word')
  return part.size === null ? '' : fileSize(part.size)
}
