<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import OpenPage from './OpenPage.vue'
import Problem from '@/shared/Problem.vue'
import Suggest from '@/shared/Suggest.vue'

/** Where the link of an invitation leads: name, password, zone, and in. */
const route = useRoute()
const router = useRouter()
const token = computed(() => String(route.params.token))
const query = useQuery({
  queryKey: ['link', token],
  queryFn: () =>
    ask(
      api.GET('/api/v1/links/{kind}/{token}', {
        params: { path: { kind: 'invitation', token: token.value } },
      }),
    ),
  retry: false,
  staleTime: Infinity,
})
const name = ref('')
const password = ref('')
const zone = ref(Intl.DateTimeFormat().resolvedOptions().timeZone)
const zones = Intl.supportedValuesOf('timeZone')
watch(query.data, (now) => now && !name.value && (name.value = now.name), { immediate: true })
const accept = useAction(async () => {
  const made = await ask(
    api.POST('/api/v1/links/invitation/{token}', {
      params: { path: { token: token.value } },
      body: { name: name.value, password: password.value, zone: zone.value },
    }),
  )
  await ask(api.POST('/api/v1/session', { body: { email: made.email, password: password.value } }))
  await router.replace('/')
}, [])
</script>

<template>
  <OpenPage>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="query.data.value">
        <div>
          <h1>Welcome to {{ query.data.value.company }}</h1>
          <p class="quiet">You will sign in as {{ query.data.value.email }}.</p>
        </div>
        <form class="stack tight" @submit.prevent="accept.go()">
          <Field
            v-slot="{ id }"
            label="Your name, as others see it"
            :fault="faultOf(accept.error.value, 'name')"
            ><el-input :id="id" v-model="name" autocomplete="name" required
          /></Field>
          <Field
            v-slot="{ id }"
            label="A password"
            help="at least 12 characters; a few words are best"
            :fault="faultOf(accept.error.value, 'password')"
            ><el-input :id="id" v-model="password" type="password" autocomplete="new-password" required
          /></Field>
          <Field
            v-slot="{ id }"
            label="Your time zone"
            help="times are shown in it"
            :fault="faultOf(accept.error.value, 'zone')"
            ><Suggest :id="id" v-model="zone" :known="zones" :chars="22" required
          /></Field>
          <Problem :error="accept.error.value" :fields="['name', 'password', 'zone']" />
          <p>
            <el-button :disabled="accept.busy.value" type="primary" native-type="submit">Come in</el-button>
          </p>
        </form>
      </template>
    </Loaded>
  </OpenPage>
</template>
