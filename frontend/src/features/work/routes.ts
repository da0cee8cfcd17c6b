import { inClass } from '@/shared/inClass'

export const routes = [
  inClass('tasks', 'tasks', () => import('./Tasks.vue')),
  inClass('task', 'tasks/:taskId(\\d+)', () => import('./task/TaskPage.vue')),
]
