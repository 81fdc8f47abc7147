import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import '@fontsource-variable/source-sans-3'
import '@fontsource-variable/source-serif-4'
import '@fontsource-variable/source-serif-4/wght-italic.css'
import { ProblemError } from './api/client'
import App from './app/App.vue'
import { watchLeaving } from './app/leaving'
import { router } from './app/router'
import './app/theme.css'
import './app/ledger.css'
import './app/element.css'

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      networkMode: 'always',
      staleTime: 2_000,
      retry: (count, error) => !(error instanceof ProblemError && error.status >= 400) && count < 2,
    },
  },
})

watchLeaving(router)
createApp(App).use(router).use(VueQueryPlugin, { queryClient: queries }).mount('#app')
