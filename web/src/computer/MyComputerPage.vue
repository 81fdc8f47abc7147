<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { plural } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import ConnectIt from './ConnectIt.vue'
import EndedRuns from './EndedRuns.vue'
import RunForMe from './RunForMe.vue'

/** My computer: which runs ask for it, what works on it, and how it is connected. */
const query = useQuery({
  queryKey: ['runs', 'my-computer'],
  queryFn: () => ask(api.GET('/api/v1/my-computer')),
  refetchInterval: 15_000,
})
const data = computed(() => query.data.value)
const asking = computed(() => data.value?.open.filter((one) => one.asks) ?? [])
const others = computed(() => data.value?.open.filter((one) => !one.asks) ?? [])
const lead = computed(() => {
  const count = asking.value.length
  return count ? `${count} ${plural(count, 'run asks', 'runs ask')} for it.` : 'No run asks for it.'
})
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="stack">
      <div>
        <p class="quiet"><router-link to="/profile">My profile</router-link></p>
        <h1>My computer</h1>
        <p class="lead">{{ lead }}</p>
      </div>
      <section v-if="asking.length" class="stack" aria-label="What asks for it">
        <RunForMe v-for="one in asking" :key="one.id" :run="one" />
      </section>
      <section v-if="others.length" class="stack">
        <h2>Agreed, put off, or working</h2>
        <RunForMe v-for="one in others" :key="one.id" :run="one" />
      </section>
      <ConnectIt :seats="data.seats" :computer="data.computer ?? null" />
      <EndedRuns v-if="data.ended.length" :runs="data.ended" />
      <MarginNotes>
        <section class="stack tight">
          <h2>What happens on it</h2>
          <p class="quiet">
            Only runs that are meant for you work here, one at a time, and each asks first. It says what it
            will do before you answer, and you can stop it whenever you like. While you use the computer
            yourself, no other work is given to it.
          </p>
        </section>
      </MarginNotes>
    </div>
  </Loaded>
</template>
