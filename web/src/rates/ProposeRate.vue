<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import DayField from '@/shared/DayField.vue'
import DraftNote from '@/shared/DraftNote.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import NumberField from '@/shared/NumberField.vue'
import Problem from '@/shared/Problem.vue'
import { useMe } from '@/shared/session'
import Suggest from '@/shared/Suggest.vue'
import { useDraft } from '@/shared/unsaved'
import Choice from '@/shared/Choice.vue'
import DivisionField from '@/shared/DivisionField.vue'

/** A rate or row of the cost tables, proposed from a day on; somebody else approves it. */
const props = defineProps<{ rates: Schemas['RateRow'][] }>()
const { currency, zone } = useMe()
const today = dayIn(zone.value)
const known = useQuery({ queryKey: ['rates', 'kinds'], queryFn: () => ask(api.GET('/api/v1/rates/kinds')) })
const kinds = computed(() => known.data.value ?? [])
const unit = computed(() => {
  const found = kinds.value.find((one) => one.kind === form.value.kind)?.unit ?? ''
  if (found.startsWith('share')) return `as a share, 0.1 is 10 %${found.slice('share'.length)}`
  return `in ${found.replace('money', currency.value)}`
})
const form = ref({
  kind: 'hour_cost',
  what: '',
  division_id: null as number | null,
  value: '',
  since: today,
  source: '',
})
const kind = computed(() => kinds.value.find((one) => one.kind === form.value.kind))
watch(
  () => form.value.kind,
  () => {
    form.value.what = ''
    form.value.division_id = null
  },
)
const named = computed(() => [
  ...new Set(
    props.rates.filter((rate) => rate.kind === form.value.kind && rate.what).map((rate) => rate.what),
  ),
])
const propose = useAction(async () => {
  await ask(
    api.POST('/api/v1/rates', {
      body: { ...form.value, division_id: form.value.division_id ?? 0, idea_id: 0 },
    }),
  )
  form.value = { ...form.value, value: '', source: '' }
  unsent.done()
})
const unsent = useDraft('The rate', () => 'rate', { form })
</script>

<template>
  <form class="stack tight" @submit.prevent="propose.go()">
    <DraftNote :draft="unsent" />
    <h2>Propose a new rate</h2>
    <div class="row top">
      <Field v-slot="{ id }" label="Rate">
        <Choice
          :id="id"
          v-model="form.kind"
          :options="kinds.map((one) => ({ value: one.kind, words: one.name }))"
        />
      </Field>
      <Field
        v-if="kind?.by"
        v-slot="{ id }"
        :label="kind.by.charAt(0).toUpperCase() + kind.by.slice(1)"
        :help="kind.needs_by ? 'which one' : 'empty: for all'"
        :fault="faultOf(propose.error.value, 'what')"
      >
        <Suggest :id="id" v-model="form.what" :chars="16" :maxlength="60" :known="named" />
      </Field>
      <Field v-if="kind?.divided" v-slot="{ id }" label="Division">
        <DivisionField :id="id" v-model="form.division_id" nothing="all" />
      </Field>
      <Field v-slot="{ id }" label="Value" :help="unit" :fault="faultOf(propose.error.value, 'value')"
        ><NumberField :id="id" v-model="form.value" :chars="9"
      /></Field>
      <Field v-slot="{ id }" label="In force from"><DayField :id="id" v-model="form.since" /></Field>
      <Field v-slot="{ id }" label="Where it comes from" :fault="faultOf(propose.error.value, 'source')"
        ><el-input :id="id" v-model="form.source" style="--chars: 28"
      /></Field>
    </div>
    <Problem :error="propose.error.value" :fields="['value', 'source', 'what']" />
    <p><el-button :disabled="propose.busy.value" native-type="submit">Propose it</el-button></p>
  </form>
</template>
