<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { several } from '@/shared/format'
import Problem from '@/shared/Problem.vue'

/** What moving a secret to another area would do: which routines would find it no more, and which would. */
const props = defineProps<{ secret: Schemas['SecretRow']; area: number | null }>()
const look = useQuery({
  queryKey: ['safe', 'moving', () => props.secret.id, () => props.area],
  placeholderData: keepPreviousData,
  queryFn: () =>
    ask(
      api.GET('/api/v1/secrets/{number}/moving', {
        params: { path: { number: props.secret.id }, query: { area: props.area ?? undefined } },
      }),
    ),
})
const said = (rows: Schemas['RoutineOut'][], unseen: number): string =>
  [
    ...rows.map((one) => one.name),
    ...(unseen ? [several(unseen, 'routine that you may not see', 'routines that you may not see')] : []),
  ].join(', ')
const lose = computed(() => (look.data.value ? said(look.data.value.lose, look.data.value.lose_unseen) : ''))
const gain = computed(() => (look.data.value ? said(look.data.value.gain, look.data.value.gain_unseen) : ''))
</script>

<template>
  <div v-if="look.data.value" role="status" class="stack tight">
    <p v-if="lose" class="care">! These ask for it and would not find it any more: {{ lose }}.</p>
    <p v-if="gain">These ask for it and would find it: {{ gain }}.</p>
    <p v-if="!lose && !gain" class="quiet">No routine that asks for it would notice.</p>
  </div>
  <Problem :error="look.error.value" />
</template>
