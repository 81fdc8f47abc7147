<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import OpenPage from './OpenPage.vue'

const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')

const enter = useAction(async () => {
  await ask(api.POST('/api/v1/session', { body: { email: email.value, password: password.value } }))
  const to = typeof route.query.to === 'string' && /^\/(?!\/)/.test(route.query.to) ? route.query.to : '/'
  await router.replace(to)
})
</script>

<template>
  <OpenPage>
    <h1>Sign in</h1>
    <form class="stack" @submit.prevent="enter.go()">
      <Field v-slot="{ id }" label="Mail address">
        <input :id="id" v-model="email" type="email" autocomplete="username" required autofocus />
      </Field>
      <Field v-slot="{ id }" label="Password">
        <input :id="id" v-model="password" type="password" autocomplete="current-password" required />
      </Field>
      <Problem :error="enter.error.value" />
      <p><button class="filled" :disabled="enter.busy.value">Sign in</button></p>
    </form>
    <p v-if="route.query.to" class="quiet">You will then be taken to the page you asked for.</p>
    <p><router-link to="/new-password">I forgot my password</router-link></p>
  </OpenPage>
</template>
