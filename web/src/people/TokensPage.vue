<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import TokenTable from './TokenTable.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import HouseTabs from '@/shared/HouseTabs.vue'

/** Everybody's tokens for programs. */
const query = useQuery({ queryKey: ['tokens', 'all'], queryFn: () => ask(api.GET('/api/v1/house/tokens')) })
</script>

<template>
  <div class="stack">
    <div>
      <h1>Tokens for programs</h1>
      <p class="lead">Tokens: which programs act for whom, what they may do, until when.</p>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value" :empty="!query.data.value?.length">
      <template #empty>
        No program holds a token. Who may make one does so in
        <router-link to="/profile?sheet=programs">their profile</router-link>.
      </template>
      <TokenTable :rows="query.data.value ?? []" owners />
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>What a program may</h2>
        <p class="quiet">
          Never more than its token's permissions, and never more than its person holds this moment. When the
          person leaves, it stops. A token is sent in a header only, and may call 600 times a minute.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
