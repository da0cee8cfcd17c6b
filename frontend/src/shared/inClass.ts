import type { RouteRecordRaw } from 'vue-router'

/** A page within a class: its parameters arrive as numbers. */
export function inClass(
  name: string,
  path: string,
  component: () => Promise<unknown>,
): RouteRecordRaw {
  return {
    name,
    path: `classes/:classId(\\d+)/${path}`,
    component,
    props: (route) =>
      Object.fromEntries(Object.entries(route.params).map(([key, value]) => [key, Number(value)])),
  }
}
