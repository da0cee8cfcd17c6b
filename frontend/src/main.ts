import '@fontsource-variable/atkinson-hyperlegible-next'
import '@fontsource-variable/fraunces'
import '@/design/tokens.css'
import '@/design/base.css'
import { PiniaColada } from '@pinia/colada'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from '@/app/App.vue'
import { router } from '@/app/router'

createApp(App)
  .use(createPinia())
  .use(PiniaColada, { queryOptions: { staleTime: 2_000, gcTime: 120_000 } })
  .use(router)
  .mount('#app')
