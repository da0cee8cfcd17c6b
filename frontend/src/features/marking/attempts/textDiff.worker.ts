/** Compares texts apart from the page: unlike ones can take long, and are given up from outside. */
import { diffWordsWithSpace } from 'diff'
import type { Stretch } from './textDiff'

self.onmessage = ({ data }: MessageEvent<{ before: string; after: string }>) => {
  const found: Stretch[] = diffWordsWithSpace(data.before, data.after).map((one) => ({
    text: one.value,
    what: one.added ? 'added' : one.removed ? 'removed' : 'same',
  }))
  self.postMessage(found)
}
// Loading it takes no part of the time that a comparison may take.
self.postMessage('ready')
