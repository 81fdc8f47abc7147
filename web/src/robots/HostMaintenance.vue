<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import DayField from '@/shared/DayField.vue'
import { dayIn } from '@/shared/days'
import DraftNote from '@/shared/DraftNote.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import HangsOn from '@/shared/HangsOn.vue'
import { useMe } from '@/shared/session'
import TimeField from '@/shared/TimeField.vue'
import { useDraft } from '@/shared/unsaved'
import When from '@/shared/When.vue'

/** Maintenance of a host: what it would mean is seen first; what runs goes on, nothing new is taken. */
const props = defineProps<{ host: Schemas['Host'] }>()
const emit = defineEmits<{ leave: [] }>()
const { zone } = useMe()
const path = computed(() => ({ params: { path: { number: props.host.id } } }))
const look = useQuery({
  queryKey: ['robots', 'maintenance', () => props.host.id],
  staleTime: 0,
  queryFn: () => ask(api.GET('/api/v1/hosts/{number}/maintenance', path.value)),
})
// What was said before stands there to be changed: its end on the reader's wall, as 2026-11-30 18:00.
const until = props.host.maintenance_until
const wall = until ? new Date(until).toLocaleString('sv-SE', { timeZone: zone.value }).split(' ') : null
const ends = ref(!props.host.maintenance_at || until !== null)
const day = ref(wall?.[0] ?? dayIn(zone.value))
const time = ref(wall?.[1]?.slice(0, 5) ?? '18:00')
const why = ref(props.host.maintenance_why)
const begin = useAction(async () => {
  const body = { until: ends.value ? `${day.value}T${time.value}:00` : null, why: why.value }
  await ask(api.PUT('/api/v1/hosts/{number}/maintenance', { ...path.value, body }))
  unsent.done()
  emit('leave')
})
const end = useAction(async () => {
  await ask(api.DELETE('/api/v1/hosts/{number}/maintenance', path.value))
  emit('leave')
})
const unsent = useDraft('The maintenance', () => `maintenance-${props.host.id}`, { ends, day, time, why })
const fault = (name: string) => faultOf(begin.error.value, name)
</script>

<template>
  <form class="note stack tight" @submit.prevent="begin.go()">
    <DraftNote :draft="unsent" />
    <h3>Maintenance of {{ host.name }}</h3>
    <p v-if="host.maintenance_at" class="row">
      <span>
        Since <When :at="host.maintenance_at" /> it takes nothing new<template v-if="host.maintenance_until"
          >, until <When :at="host.maintenance_until" /></template
        >.
      </span>
      <el-button :disabled="end.busy.value" @click="end.go()">End it now</el-button>
    </p>
    <p v-else>What runs on it goes on to its end, and it takes nothing new.</p>
    <HangsOn v-if="look.data.value" :hangs="look.data.value.hangs" :unseen="look.data.value.unseen" />
    <el-checkbox v-model="ends">it ends by itself</el-checkbox>
    <div v-if="ends" class="row top">
      <Field v-slot="{ id }" label="Until" :fault="fault('until')"><DayField :id="id" v-model="day" /></Field>
      <Field v-slot="{ id }" label="at" :help="zone"><TimeField :id="id" v-model="time" /></Field>
    </div>
    <Field
      v-slot="{ id }"
      label="What is done to it"
      help="whoever waits for it reads that"
      :fault="fault('why')"
    >
      <el-input :id="id" v-model="why" style="--chars: 44" maxlength="200" placeholder="new memory" />
    </Field>
    <FormEnd
      :action="host.maintenance_at ? 'Change it' : 'Begin it'"
      leave="Cancel"
      :busy="begin.busy.value"
      :error="begin.error.value ?? end.error.value"
      :fields="['why', 'until']"
      :wait="why.trim() ? '' : 'Say what is done to it.'"
      @leave="emit('leave')"
    />
  </form>
</template>
