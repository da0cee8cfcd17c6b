const number = (value: unknown) => Number(value)

export const routes = [
  { name: 'my-work', path: '', component: () => import('./MyWork.vue') },
  { name: 'my-results', path: 'results', component: () => import('./MyResults.vue') },
  { name: 'my-ladder', path: 'ladder', component: () => import('./MyLadder.vue') },
  { name: 'my-account', path: 'account', component: () => import('./MyAccount.vue') },
  {
    name: 'my-task',
    path: 'tasks/:taskId(\\d+)',
    component: () => import('./MyTask.vue'),
    props: (route: { params: Record<string, unknown> }) => ({
      taskId: number(route.params.taskId),
    }),
  },
  {
    name: 'my-result',
    path: 'tasks/:taskId(\\d+)/result/:attempt(\\d+)?',
    component: () => import('./MyResult.vue'),
    props: (route: { params: Record<string, unknown> }) => ({
      taskId: number(route.params.taskId),
      attempt: route.params.attempt ? number(route.params.attempt) : null,
    }),
  },
]
