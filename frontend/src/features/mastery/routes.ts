import { inClass } from '@/shared/inClass'

export const routes = [
  inClass('mastery', 'mastery', () => import('./Wall.vue')),
  inClass('class-over-term', 'mastery/class', () => import('./overTerm/ClassPage.vue')),
  inClass(
    'all-classes',
    'outcomes/:outcomeId(\\d+)/all-classes',
    () => import('./overTerm/AllClasses.vue'),
  ),
  inClass('compare', 'mastery/compare', () => import('./compare/ComparePage.vue')),
  inClass('students-view', 'students/:studentId(\\d+)/view', () => import('./StudentsView.vue')),
  inClass('student', 'students/:studentId(\\d+)', () => import('./StudentPage.vue')),
]
