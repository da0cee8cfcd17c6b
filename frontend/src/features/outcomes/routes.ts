import { inClass } from '@/shared/inClass'

export const routes = [
  inClass('outcomes', 'outcomes', () => import('@/features/outcomes/list/Outcomes.vue')),
  inClass(
    'outcome',
    'outcomes/:outcomeId(\\d+)',
    () => import('@/features/outcomes/page/OutcomePage.vue'),
  ),
  inClass('coverage', 'coverage', () => import('@/features/outcomes/coverage/Coverage.vue')),
  inClass('scales', 'scales', () => import('@/features/outcomes/scales/Scales.vue')),
]
