<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, ProblemError } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import OpenPage from './OpenPage.vue'

/** By password, with a code where one is asked for, or by single sign-on. */
const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')
const step = ref('')
const code = ref('')
const entrance = useQuery({ queryKey: ['entrance'], queryFn: () => ask(api.GET('/api/v1/entrance')) })
watchEffect(() => entrance.data.value?.first_run && void router.replace('/first'))
const to = computed(() =>
  typeof route.query.to === 'string' && /^\/(?![/\\])/.test(route.query.to) ? route.query.to : '/',
)
const WENT_WRONG: Record<string, string> = {
  forbidden:
    'The identity provider knows you, but you cannot come in: your account here is not active, or it names no proved mail address. Ask the lead.',
  not_signed_in: 'The sign-in was not confirmed, took too long, or began in another browser. Try again.',
  unavailable: 'The identity provider does not answer. Try again in a moment, or use your password.',
}
const outsideFault = computed(() => {
  const said = route.query.outside
  return typeof said === 'string'
    ? (WENT_WRONG[said] ?? 'Single sign-on did not work. Use your password.')
    : ''
})
const enter = useAction(async () => {
  try {
    await ask(api.POST('/api/v1/session', { body: { email: email.value, password: password.value } }))
  } catch (problem) {
    if (!(problem instanceof ProblemError) || problem.code !== 'second_factor') throw problem
    step.value = String(problem.more.step)
    return
  }
  await router.replace(to.value)
}, [])
const prove = useAction(async () => {
  try {
    await ask(api.POST('/api/v1/session/second', { body: { step: step.value, code: code.value } }))
  } catch (problem) {
    if (problem instanceof ProblemError && problem.status === 401) again()
    throw problem
  }
  await router.replace(to.value)
}, [])
function again() {
  step.value = code.value = password.value = ''
}
</script>

<template>
  <OpenPage>
    <h1>Sign in</h1>
    <p v-if="outsideFault" class="note bad" role="alert">{{ outsideFault }}</p>
    <form v-if="!step" class="stack" @submit.prevent="enter.go()">
      <Field v-slot="{ id }" label="Mail address">
        <el-input :id="id" v-model="email" type="email" autocomplete="username" required autofocus />
      </Field>
      <Field v-slot="{ id }" label="Password">
        <el-input :id="id" v-model="password" type="password" autocomplete="current-password" required />
      </Field>
      <Problem :error="enter.error.value ?? prove.error.value" />
      <p class="row">
        <el-button :disabled="enter.busy.value" type="primary" native-type="submit">Sign in</el-button>
        <a
          v-if="entrance.data.value?.outside"
          class="button"
          :href="`/api/v1/outside/start?to=${encodeURIComponent(to)}`"
          >By {{ entrance.data.value.outside }}</a
        >
      </p>
    </form>
    <form v-else class="stack" @submit.prevent="prove.go()">
      <Field
        v-slot="{ id }"
        label="Code from your app"
        help="without the app at hand, one of your recovery codes"
        :fault="faultOf(prove.error.value, 'code')"
      >
        <el-input :id="id" v-model="code" autocomplete="one-time-code" required autofocus />
      </Field>
      <Problem :error="prove.error.value" :fields="['code']" />
      <p class="row">
        <el-button :disabled="prove.busy.value" type="primary" native-type="submit">Go on</el-button>
        <el-button @click="again">From the start</el-button>
      </p>
    </form>
    <p v-if="route.query.to" class="quiet">You will then be taken to the page you asked for.</p>
    <p v-if="!step"><router-link to="/new-password">I forgot my password</router-link></p>
  </OpenPage>
</template>
