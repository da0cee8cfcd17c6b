import type { RouteRecordRaw } from 'vue-router'

export const routes: RouteRecordRaw[] = [
  {
    name: 'sheet',
    path: 'classes/:classId(\\d+)/sheets/:what/:thing(\\d+)?',
    component: () => import('./PrintSheet.vue'),
    props: ({ params }) => ({
      classId: Number(params.classId),
      what: params.what,
      thing: Number(params.thing) || 0,
    }),
  },
  {
    name: 'result-page',
    path: 'classes/:classId(\\d+)/tasks/:taskId(\\d+)/students/:studentId(\\d+)/result',
    component: () => import('./ResultPage.vue'),
    props: ({ params }) => ({
      classId: Number(params.classId),
      taskId: Number(params.taskId),
      studentId: Number(params.studentId),
    }),
  },
]
