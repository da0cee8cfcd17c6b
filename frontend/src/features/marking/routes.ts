import type { RouteLocationNormalized } from 'vue-router'
import { inClass } from '@/shared/inClass'

/** On a phone in the room: without the frame of the other pages, and without a server. */
export const ownPages = [
  {
    name: 'observe',
    path: '/classes/:classId(\\d+)/tasks/:taskId(\\d+)/observe',
    component: () => import('@/features/marking/observing/ObservePage.vue'),
    props: (route: RouteLocationNormalized) => ({
      classId: Number(route.params.classId),
      taskId: Number(route.params.taskId),
    }),
  },
]

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
