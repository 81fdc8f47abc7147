<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import DayField from '@/shared/DayField.vue'
import DraftNote from '@/shared/DraftNote.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import NumberField from '@/shared/NumberField.vue'
import { useMe } from '@/shared/session'
import { useDraft } from '@/shared/unsaved'
import PromiseLook from './PromiseLook.vue'

/** What a measure, or what ran already, is to bring: filled with what is known, frozen by a yes. */
const props = defineProps<{ idea: number; data: Schemas['MeasureOut']; liveOn: string | null }>()
const emit = defineEmits<{ done: [] }>()
const { currency } = useMe()
const known = props.data.suggested
const form = ref({
  volume_per_year: known.volume_per_year ?? '',
  minutes_before: known.minutes_before ?? '',
  minutes_after: known.minutes_after ?? '',
  once: known.once,
  running: known.running,
  go_live: known.go_live ?? '',
  reason: '',
})
const FIELDS = [
  { key: 'volume_per_year' as const, label: 'Items a year' },
  { key: 'minutes_before' as const, label: 'Minutes each, before' },
  { key: 'minutes_after' as const, label: 'Minutes each, after' },
  { key: 'once' as const, label: 'It costs, once' },
  { key: 'running' as const, label: 'It costs, a year' },
]
const names = [...FIELDS.map((one) => one.key), 'go_live', 'reason']
const unsent = useDraft('The promise', () => `measure-promise-${props.idea}`, { form })
const again = computed(() => props.data.promise_number > 0)
const keep = useAction(async () => {
  await ask(
    api.PUT('/api/v1/ideas/{number}/measures/promise', {
      params: { path: { number: props.idea } },
      body: given.value,
    }),
  )
  unsent.done()
  emit('done')
})
const whole = computed(() => FIELDS.every((one) => form.value[one.key] !== '') && !!form.value.go_live)
const given = computed(() => ({ ...form.value, seen: props.data.promise_number }))
const wait = computed(() => {
  if (FIELDS.some((one) => form.value[one.key] === '')) return 'Fill in every figure; 0 where there is none.'
  if (!form.value.go_live) return 'Say from which day it counts.'
  return again.value && !form.value.reason.trim() ? 'Say why it is promised anew.' : ''
})
const fault = (name: string) => faultOf(keep.error.value, name)
</script>

<template>
  <form class="note stack tight" @submit.prevent="keep.go()">
    <DraftNote :draft="unsent" />
    <div class="row top">
      <Field v-for="one in FIELDS" :key="one.key" v-slot="{ id }" :label="one.label" :fault="fault(one.key)">
        <NumberField
          :id="id"
          v-model="form[one.key]"
          :unit="one.key === 'once' || one.key === 'running' ? currency : undefined"
        />
      </Field>
      <Field v-slot="{ id }" label="Promised from" :fault="fault('go_live')">
        <DayField :id="id" v-model="form.go_live" :min="liveOn ?? undefined" />
      </Field>
    </div>
    <Field v-if="again" v-slot="{ id }" label="Why it is promised anew" :fault="fault('reason')">
      <el-input :id="id" v-model="form.reason" maxlength="1000" style="--chars: 60" />
    </Field>
    <PromiseLook :idea="idea" :given="given" :ready="whole" />
    <FormEnd
      :action="again ? 'Promise it anew' : 'Promise it'"
      leave="Cancel"
      :busy="keep.busy.value"
      :error="keep.error.value"
      :fields="names"
      :wait="wait"
      @leave="emit('done')"
    />
  </form>
</template>
