import { createRouter, createWebHistory } from 'vue-router'

const inClass = (name: string, path: string, component: () => Promise<unknown>) => ({
  name,
  path,
  component,
  props: (route: { params: Record<string, string | string[]> }) =>
    Object.fromEntries(Object.entries(route.params).map(([key, value]) => [key, Number(value)])),
})

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { name: 'sign-in', path: '/sign-in', component: () => import('./SignIn.vue') },
    { name: 'first-start', path: '/first-start', component: () => import('./FirstStart.vue') },
    {
      path: '/',
      component: () => import('./Shell.vue'),
      children: [
        { name: 'classes', path: '', component: () => import('./Classes.vue') },
        inClass(
          'students',
          'classes/:classId(\\d+)/students',
          () => import('@/features/students/Students.vue'),
        ),
        inClass(
          'outcomes',
          'classes/:classId(\\d+)/outcomes',
          () => import('@/features/outcomes/Outcomes.vue'),
        ),
        inClass(
          'outcome',
          'classes/:classId(\\d+)/outcomes/:outcomeId(\\d+)',
          () => import('@/features/outcomes/OutcomePage.vue'),
        ),
        inClass(
          'coverage',
          'classes/:classId(\\d+)/coverage',
          () => import('@/features/outcomes/Coverage.vue'),
        ),
        inClass(
          'scales',
          'classes/:classId(\\d+)/scales',
          () => import('@/features/scales/Scales.vue'),
        ),
        inClass(
          'rubrics',
          'classes/:classId(\\d+)/rubrics',
          () => import('@/features/rubrics/Rubrics.vue'),
        ),
        inClass(
          'rubric',
          'classes/:classId(\\d+)/rubrics/:rubricId(\\d+)',
          () => import('@/features/rubrics/RubricEditor.vue'),
        ),
        inClass(
          'revisions',
          'classes/:classId(\\d+)/rubrics/:rubricId(\\d+)/revisions',
          () => import('@/features/rubrics/Revisions.vue'),
        ),
        inClass(
          'tasks',
          'classes/:classId(\\d+)/tasks',
          () => import('@/features/tasks/Tasks.vue'),
        ),
        inClass(
          'task',
          'classes/:classId(\\d+)/tasks/:taskId(\\d+)',
          () => import('@/features/tasks/TaskPage.vue'),
        ),
        inClass(
          'marking',
          'classes/:classId(\\d+)/marking',
          () => import('@/features/marking/Pile.vue'),
        ),
        inClass(
          'desk',
          'classes/:classId(\\d+)/marking/:taskId(\\d+)/:studentId(\\d+)?',
          () => import('@/features/marking/Desk.vue'),
        ),
        inClass(
          'mastery',
          'classes/:classId(\\d+)/mastery',
          () => import('@/features/mastery/Wall.vue'),
        ),
        { path: ':rest(.*)*', name: 'nowhere', component: () => import('./Nowhere.vue') },
      ],
    },
  ],
  scrollBehavior: () => ({ top: 0 }),
})
