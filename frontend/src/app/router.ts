import { createRouter, createWebHistory } from 'vue-router'
import { routes as classes } from '@/features/classes/routes'
import { ownPages, routes as marking } from '@/features/marking/routes'
import { routes as mastery } from '@/features/mastery/routes'
import { routes as outcomes } from '@/features/outcomes/routes'
import { routes as people } from '@/features/people/routes'
import { routes as reports } from '@/features/reports/routes'
import { routes as rubrics } from '@/features/rubrics/routes'
import { routes as student } from '@/features/student/routes'
import { routes as work } from '@/features/work/routes'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { name: 'sign-in', path: '/sign-in', component: () => import('./SignIn.vue') },
    { name: 'join', path: '/join', component: () => import('./Join.vue') },
    { name: 'first-start', path: '/first-start', component: () => import('./FirstStart.vue') },
    ...ownPages,
    { path: '/my', component: () => import('./StudentShell.vue'), children: student },
    {
      path: '/',
      component: () => import('./Shell.vue'),
      children: [
        { name: 'classes', path: '', component: () => import('./FirstPage.vue') },
        ...classes,
        ...outcomes,
        ...rubrics,
        ...work,
        ...marking,
        ...mastery,
        ...people,
        ...reports,
        { path: ':rest(.*)*', name: 'nowhere', component: () => import('./Nowhere.vue') },
      ],
    },
  ],
  scrollBehavior: () => ({ top: 0 }),
})
