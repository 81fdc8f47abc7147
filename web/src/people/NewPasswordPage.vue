<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import OpenPage from './OpenPage.vue'

/** A new password: asked for by mail, or chosen by the link in it. */
const route = useRoute()
const token = computed(() => String(route.params.token ?? ''))
const query = useQuery({
  queryKey: ['link', token],
  queryFn: () =>
    ask(
      api.GET('/api/v1/links/{kind}/{token}', { params: { path: { kind: 'password', token: token.value } } }),
    ),
  enabled: computed(() => token.value !== ''),
  retry: false,
  staleTime: Infinity,
})
const email = ref('')
const password = ref('')
const done = ref(false)
const forgot = useAction(async () => {
  await ask(api.POST('/api/v1/forgotten', { body: { email: email.value } }))
  done.value = true
})
const choose = useAction(async () => {
  await ask(
    api.POST('/api/v1/links/password/{token}', {
      params: { path: { token: token.value } },
      body: { password: password.value },
    }),
  )
  done.value = true
}, [])
</script>

<template>
  <OpenPage>
    <template v-if="!token">
      <h1>A new password</h1>
      <p v-if="done" class="note" role="status">
        If {{ email }} belongs to somebody here, a mail with a link is on its way. It works for an hour.
      </p>
      <form v-else class="stack tight" @submit.prevent="forgot.go()">
        <Field v-slot="{ id }" label="Your mail address"
          ><el-input :id="id" v-model="email" type="email" autocomplete="username" required autofocus
        /></Field>
        <Problem :error="forgot.error.value" />
        <p>
          <el-button :disabled="forgot.busy.value" type="primary" native-type="submit"
            >Send me a link</el-button
          >
        </p>
      </form>
    </template>
    <Loaded v-else :pending="query.isPending.value" :error="query.error.value">
      <h1>A new password</h1>
      <p v-if="done" class="note" role="status">It is set, and every sign-in so far has ended.</p>
      <form v-else class="stack tight" @submit.prevent="choose.go()">
        <Field
          v-slot="{ id }"
          :label="`For ${query.data.value?.email ?? ''}`"
          help="at least 12 characters; a few words are best"
          :fault="faultOf(choose.error.value, 'password')"
          ><el-input
            :id="id"
            v-model="password"
            type="password"
            autocomplete="new-password"
            required
            autofocus
        /></Field>
        <Problem :error="choose.error.value" :fields="['password']" />
        <p><el-button :disabled="choose.busy.value" type="primary" native-type="submit">Set it</el-button></p>
      </form>
    </Loaded>
    <p><router-link to="/sign-in">Sign in</router-link></p>
  </OpenPage>
</template>
