import { inClass } from '@/shared/inClass'

export const routes = [
  inClass('students', 'students', () => import('./Students.vue')),
  inClass('slips', 'slips', () => import('./Slips.vue')),
]
