export const routes = [
  { name: 'account', path: 'account', component: () => import('./Account.vue') },
  { name: 'colleagues', path: 'colleagues', component: () => import('./Colleagues.vue') },
  { name: 'outbox', path: 'outbox', component: () => import('./Outbox.vue') },
  { name: 'log', path: 'log', component: () => import('./SchoolLog.vue') },
]
