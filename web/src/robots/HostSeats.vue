<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { money, several } from '@/shared/format'
import { useMe } from '@/shared/session'
import WholeField from '@/shared/WholeField.vue'

/** How many seats a host has: what another number does is seen before it is kept. */
const props = defineProps<{
  host: { id: number; name: string }
  kind: Schemas['SeatsOfKind']['kind']
  number: number
}>()
const emit = defineEmits<{ leave: [] }>()
const { currency } = useMe()
const wanted = ref<number | null>(props.number)
const params = computed(() => ({ path: { number: props.host.id } }))
const look = useQuery({
  queryKey: ['robots', 'seats', () => props.host.id, () => props.kind, wanted],
  enabled: () => wanted.value !== null && wanted.value !== props.number,
  placeholderData: keepPreviousData,
  queryFn: () =>
    ask(
      api.GET('/api/v1/hosts/{number}/seats', {
        params: { ...params.value, query: { seats: wanted.value ?? 0, kind: props.kind } },
      }),
    ),
})
const seen = computed(() => (wanted.value === props.number ? undefined : look.data.value))
const keep = useAction(async () => {
  await ask(
    api.PUT('/api/v1/hosts/{number}/seats', {
      params: params.value,
      body: { seats: wanted.value ?? 0, kind: props.kind },
    }),
  )
  emit('leave')
})
const wait = computed(() => {
  if (wanted.value === null) return 'Say how many seats.'
  if (wanted.value === props.number) return 'That is as many as it has.'
  return seen.value?.against ? 'It cannot be kept so.' : ''
})
</script>

<template>
  <form class="note stack tight" @submit.prevent="keep.go()">
    <h3>{{ kind === 'trial' ? 'Trial seats' : 'Seats' }} of {{ host.name }}</h3>
    <Field
      v-slot="{ id }"
      :label="kind === 'trial' ? 'Trial seats' : 'Seats'"
      :fault="faultOf(keep.error.value, 'seats')"
    >
      <WholeField :id="id" v-model="wanted" :min="0" :max="1000" />
    </Field>
    <div v-if="seen" role="status">
      <p>
        {{ several(seen.now, 'seat', 'seats') }} now, {{ seen.then }} then: up to
        {{
          several(seen.then, kind === 'trial' ? 'trial run' : 'run', kind === 'trial' ? 'trial runs' : 'runs')
        }}
        at once on this host. {{ seen.used }} in use now.
      </p>
      <p v-if="seen.against" class="care">
        {{ seen.against }}.
        <router-link v-if="seen.then > seen.now" :to="`/robots/seats?kind=${kind}`"
          >See the seats bought</router-link
        >
      </p>
      <p v-else-if="seen.left !== null && seen.left >= 0" class="quiet">
        {{ several(seen.left, 'seat', 'seats') }} of those bought would then not be given.
      </p>
      <p v-else-if="seen.left === null && seen.all_then" class="quiet">
        At {{ money(seen.seat_a_year, currency) }} a seat a year, all seats of the company come to
        {{ money(seen.all_then, currency) }} instead of {{ money(seen.all_now, currency) }} a year. What is
        not used of them is posted at each month’s end.
      </p>
      <p v-else-if="seen.left === null && kind !== 'trial'" class="quiet">
        No price of a seat is approved, so what it costs cannot be said.
      </p>
    </div>
    <FormEnd
      action="Keep the seats"
      leave="Cancel"
      :busy="keep.busy.value"
      :error="keep.error.value"
      :fields="['seats']"
      :wait="wait"
      @leave="emit('leave')"
    />
  </form>
</template>
