import { inClass } from '@/shared/inClass'

export const routes = [
  inClass('rubrics', 'rubrics', () => import('@/features/rubrics/library/Rubrics.vue')),
  inClass(
    'rubric',
    'rubrics/:rubricId(\\d+)',
    () => import('@/features/rubrics/editor/RubricEditor.vue'),
  ),
  inClass(
    'revisions',
    'rubrics/:rubricId(\\d+)/revisions',
    () => import('@/features/rubrics/revisions/Revisions.vue'),
  ),
]
