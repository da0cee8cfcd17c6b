import { inClass } from '@/shared/inClass'

export const routes = [
  inClass('marking', 'marking', () => import('@/features/marking/pile/Pile.vue')),
  inClass(
    'desk',
    'marking/:taskId(\\d+)/:studentId(\\d+)?/:entry(\\d+)?',
    () => import('@/features/marking/desk/Desk.vue'),
  ),
  inClass(
    'attempts',
    'marking/:taskId(\\d+)/:studentId(\\d+)/attempts',
    () => import('@/features/marking/attempts/AttemptsPage.vue'),
  ),
  { name: 'bank', path: 'bank', component: () => import('@/features/marking/bank/Bank.vue') },
]
