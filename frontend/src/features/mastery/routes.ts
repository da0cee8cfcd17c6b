import { inClass } from '@/shared/inClass'

export const routes = [
  inClass('mastery', 'mastery', () => import('./Wall.vue')),
  inClass('student', 'students/:studentId(\\d+)', () => import('./StudentPage.vue')),
]
