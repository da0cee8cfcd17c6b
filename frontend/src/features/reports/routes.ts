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
]
