<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import FormEnd from '@/shared/FormEnd.vue'
import Loaded from '@/shared/Loaded.vue'
import OpenPage from './OpenPage.vue'
import SelfFields from './SelfFields.vue'
import { useComingIn } from './self'

/** Where the link of an invitation leads: name, password, zone, and in. */
const route = useRoute()
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
const { self, comeIn } = useComingIn(async (given) => {
  const params = { path: { token: token.value } }
  const made = await ask(api.POST('/api/v1/links/invitation/{token}', { params, body: { ...given } }))
  return made.email
})
watch(query.data, (now) => now && !self.name && (self.name = now.name), { immediate: true })
</script>

<template>
  <OpenPage>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="query.data.value">
        <div>
          <h1>Welcome to {{ query.data.value.company }}</h1>
          <p class="quiet">You will sign in as {{ query.data.value.email }}.</p>
        </div>
        <form class="stack tight" @submit.prevent="comeIn.go()">
          <SelfFields
            v-model="self"
            :error="comeIn.error.value"
            name-label="Your name, as others see it"
            zone-help="times are shown in it"
          />
          <FormEnd
            action="Come in"
            :busy="comeIn.busy.value"
            :error="comeIn.error.value"
            :fields="['name', 'password', 'zone']"
          />
        </form>
      </template>
    </Loaded>
  </OpenPage>
</template>
