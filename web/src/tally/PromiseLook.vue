<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import Figure from '@/shared/Figure.vue'
import { money, number } from '@/shared/format'

/** What a promise of a measure would freeze, reckoned by the rules of any case, before it is made. */
const props = defineProps<{ idea: number; given: Schemas['MeasurePromise']; ready: boolean }>()
const settled = refDebounced(
  computed(() => JSON.stringify({ ...props.given, reason: '', seen: 0 })),
  300,
)
const look = useQuery({
  queryKey: ['tally', 'promise-look', () => props.idea, settled],
  enabled: () => props.ready,
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () =>
    ask(
      api.POST('/api/v1/ideas/{number}/measures/promise/look', {
        params: { path: { number: props.idea } },
        body: JSON.parse(settled.value) as Schemas['MeasurePromise'],
      }),
    ),
})
const seen = computed(() => (props.ready && !look.error.value ? look.data.value : undefined))
</script>

<template>
  <div v-if="seen" role="status" class="stack tight">
    <p>
      <Figure
        name="promise-look"
        label="Saves a year"
        :text="money(seen.saving, seen.currency)"
        :working="seen.working"
      >
        {{ number(seen.hours, 1) }} hours a year, at what an hour costs today</Figure
      >
    </p>
    <p class="quiet">
      Less {{ money(seen.running, seen.currency) }} a year and {{ money(seen.once, seen.currency) }} once, its
      first year brings {{ money(seen.first_year, seen.currency) }}. Payback:
      {{ seen.payback_months ? `${number(seen.payback_months, 1)} months` : seen.payback_said }}. This is what
      is frozen.
    </p>
  </div>
</template>
