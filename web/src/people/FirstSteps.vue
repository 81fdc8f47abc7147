<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import AskAccess from '@/shared/AskAccess.vue'

/** Tells a person without a role what they can do, what they cannot, and whom to ask. */
const { me } = useMe()
const asking = ref(false)
const mine = useQuery({ queryKey: ['access', 'of-me'], queryFn: () => ask(api.GET('/api/v1/access/mine')) })
</script>

<template>
  <section class="note stack tight">
    <h2>What you can do here</h2>
    <p>
      You can hand in ideas and follow what becomes of them, and you see every idea that you have a part in.
      You hold no role yet, so other ideas, routines, robots, runs and the value they bring are not shown to
      you.
    </p>
    <p v-if="me?.requests">Your request for access waits for an answer.</p>
    <template v-else>
      <p v-if="mine.data.value?.givers.length">
        {{ mine.data.value.givers.join(' or ') }} can give you more.
      </p>
      <p v-if="!asking"><el-button @click="asking = true">Ask for access</el-button></p>
      <AskAccess v-else />
    </template>
  </section>
</template>
