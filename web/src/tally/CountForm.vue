<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import { computed, ref } from 'vue'
import { api, ask, newKey, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import DayField from '@/shared/DayField.vue'
import DraftNote from '@/shared/DraftNote.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import NumberField from '@/shared/NumberField.vue'
import { useDraft } from '@/shared/unsaved'

/** Units of a span of days within one month; one that stands can be changed or taken back, with a reason. */
const props = defineProps<{ idea: number; count?: Schemas['HandCountOut']; liveOn?: string | null }>()
const emit = defineEmits<{ done: [] }>()
const { zone } = useMe()
const today = dayIn(zone.value)
const form = ref({
  first: '',
  last: '',
  units: props.count?.units ?? '',
  evidence: props.count?.evidence ?? '',
  why: '',
})
const key = newKey()
const unsent = useDraft('The count', () => `count-${props.idea}-${props.count?.id ?? 'new'}`, { form })
const path = computed(() => ({ path: { number: props.count?.id ?? props.idea } }))
const keep = useAction(async () => {
  if (props.count)
    await ask(
      api.PUT('/api/v1/counts/{number}', {
        params: path.value,
        body: { units: form.value.units, evidence: form.value.evidence, why: form.value.why },
      }),
    )
  else
    await ask(
      api.POST('/api/v1/ideas/{number}/counts', {
        params: { ...path.value, header: { 'idempotency-key': key } },
        body: {
          first: form.value.first,
          last: form.value.last,
          units: form.value.units,
          evidence: form.value.evidence,
        },
      }),
    )
  unsent.done()
  emit('done')
})
const none = useAction(async () => {
  await ask(
    api.POST('/api/v1/counts/{number}/take-back', { params: path.value, body: { why: form.value.why } }),
  )
  unsent.done()
  emit('done')
})
const wait = computed(() => {
  if (!props.count && (!form.value.first || !form.value.last)) return 'Say of which days, all of one month.'
  if (!form.value.units || form.value.evidence.trim().length < 3)
    return 'Give the units, and say where they come from.'
  return props.count && form.value.why.trim().length < 3 ? 'Say why it changes.' : ''
})
const fault = (name: string) => faultOf(keep.error.value ?? none.error.value, name)
</script>

<template>
  <form class="note stack tight" @submit.prevent="keep.go()">
    <DraftNote :draft="unsent" />
    <div class="row top">
      <template v-if="!count">
        <Field v-slot="{ id }" label="First day" :fault="fault('first')">
          <DayField :id="id" v-model="form.first" :min="liveOn ?? undefined" :max="today" />
        </Field>
        <Field v-slot="{ id }" label="Last day" :fault="fault('last')">
          <DayField :id="id" v-model="form.last" :min="form.first || (liveOn ?? undefined)" :max="today" />
        </Field>
      </template>
      <Field v-slot="{ id }" label="Units" :fault="fault('units')">
        <NumberField :id="id" v-model="form.units" />
      </Field>
    </div>
    <Field v-slot="{ id }" label="Where the figure comes from" :fault="fault('evidence')">
      <el-input :id="id" v-model="form.evidence" maxlength="1000" style="--chars: 60" />
    </Field>
    <Field v-if="count" v-slot="{ id }" label="Why it changes" :fault="fault('why')">
      <el-input :id="id" v-model="form.why" maxlength="300" style="--chars: 60" />
    </Field>
    <FormEnd
      :action="count ? 'Change the count' : 'Keep these units'"
      leave="Cancel"
      :busy="keep.busy.value || none.busy.value"
      :error="keep.error.value ?? none.error.value"
      :fields="['first', 'last', 'units', 'evidence', 'why']"
      :wait="wait"
      @leave="emit('done')"
    >
      <el-button v-if="count" :disabled="form.why.trim().length < 3 || none.busy.value" @click="none.go()"
        >It was none: take it back</el-button
      >
    </FormEnd>
  </form>
</template>
