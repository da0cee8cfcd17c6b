import type { MethodKind } from '@/api/schema'

/** The methods in a teacher's words. */
export const METHODS: Record<MethodKind, { name: string; means: string }> = {
  'decaying-average': {
    name: 'Decaying average',
    means: 'The newest piece counts most; each older one less and less.',
  },
  latest: { name: 'Latest', means: 'Only the newest piece counts.' },
  highest: { name: 'Highest', means: 'Only the best piece counts, however long ago.' },
  mean: { name: 'Mean of all', means: 'Every piece counts the same.' },
  'recent-mean': { name: 'Mean of the last few', means: 'The last few pieces count the same.' },
  'most-frequent': {
    name: 'Most frequent',
    means: 'The level that occurs most; of a tie the one that occurred last.',
  },
}
