import { inClass } from '@/shared/inClass'

export const routes = [
  { name: 'classes', path: '', component: () => import('./Classes.vue') },
  inClass('students', 'students', () => import('./Students.vue')),
  inClass('slips', 'slips', () => import('./Slips.vue')),
]
