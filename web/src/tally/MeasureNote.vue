<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import DayField from '@/shared/DayField.vue'
import DraftNote from '@/shared/DraftNote.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import NumberField from '@/shared/NumberField.vue'
import { useDraft } from '@/shared/unsaved'

/** What one takes, measured before something was done about it or after: by whom, on what, with its evidence. */
const props = defineProps<{ idea: number; phase: 'before' | 'after' }>()
const emit = defineEmits<{ done: [] }>()
const { zone } = useMe()
const today = dayIn(zone.value)
const form = ref({ minutes: '', items: '', day: '', evidence: '' })
const unsent = useDraft('What was measured', () => `measured-${props.idea}-${props.phase}`, { form })
const keep = useAction(async () => {
  await ask(
    api.POST('/api/v1/ideas/{number}/measures', {
      params: { path: { number: props.idea } },
      body: {
        phase: props.phase,
        minutes: form.value.minutes,
        items: form.value.items ? Number(form.value.items) : null,
        day: form.value.day || today,
        evidence: form.value.evidence,
      },
    }),
  )
  unsent.done()
  form.value = { minutes: '', items: '', day: '', evidence: '' }
  emit('done')
})
const wait = computed(() =>
  !form.value.minutes
    ? 'Say how many minutes one takes.'
    : form.value.evidence.trim().length < 3
      ? 'Say how it was measured.'
      : '',
)
const fault = (name: string) => faultOf(keep.error.value, name)
</script>

<template>
  <form class="note stack tight" @submit.prevent="keep.go()">
    <DraftNote :draft="unsent" />
    <div class="row top">
      <Field v-slot="{ id }" label="Minutes one takes" :fault="fault('minutes')">
        <NumberField :id="id" v-model="form.minutes" />
      </Field>
      <Field v-slot="{ id }" label="Measured on how many" help="if you know it" :fault="fault('items')">
        <NumberField :id="id" v-model="form.items" />
      </Field>
      <Field v-slot="{ id }" label="Day" help="today, if it stays empty" :fault="fault('day')">
        <DayField :id="id" v-model="form.day" :max="today" />
      </Field>
    </div>
    <Field v-slot="{ id }" label="How it was measured" :fault="fault('evidence')">
      <el-input :id="id" v-model="form.evidence" type="textarea" :rows="2" maxlength="1000" />
    </Field>
    <FormEnd
      action="Keep it"
      leave="Cancel"
      :busy="keep.busy.value"
      :error="keep.error.value"
      :fields="['minutes', 'items', 'day', 'evidence']"
      :wait="wait"
      @leave="emit('done')"
    />
  </form>
</template>
