<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import Choice from '@/shared/Choice.vue'
import DayField from '@/shared/DayField.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import { useSheet, type Sheet } from './useSheet'

/** How lines come in: where they begin, and what they may come in without. */
const props = defineProps<{ sheet: Sheet; error?: unknown }>()
const { match, keep } = useSheet(() => props.sheet)
const why = ref(props.sheet.why)
watch(
  () => props.sheet.why,
  (now) => (why.value = now),
)
const STAGES = [
  { value: 'noted', words: 'noted: each goes through the review' },
  { value: 'screened', words: 'screened: the team has looked at them' },
]
const SWITCHES = [
  {
    key: 'without_people' as const,
    label: 'A person who is not known',
    no: 'its line stays out',
    yes: 'its line comes in without',
  },
  {
    key: 'without_values' as const,
    label: 'Any other value that cannot be read',
    no: 'its line stays out',
    yes: 'its line comes in without it',
  },
  {
    key: 'ends_early' as const,
    label: 'A row that ends before its head does',
    no: 'it stays out',
    yes: 'its last cells are empty',
  },
]
const skips = computed(() => Object.keys(props.sheet.stages).some((one) => !HELD.includes(one)))
const HELD = ['noted', 'parked', 'declined']
const trouble = computed(() => keep.error.value ?? props.error)
const stated = computed(() => 'state' in match.value.columns)
</script>

<template>
  <section class="stack tight">
    <h2>How they come in</h2>
    <div class="row top">
      <Field
        v-slot="{ id }"
        :label="stated ? 'Where no state stands, they begin as' : 'They begin as'"
        :fault="faultOf(trouble, 'stage')"
      >
        <Choice
          :id="id"
          :model-value="match.stage ?? 'noted'"
          :options="STAGES"
          @update:model-value="(now) => keep.go({ ...match, stage: now })"
        />
      </Field>
      <Field
        v-if="skips || match.stage !== 'noted'"
        v-slot="{ id }"
        label="Why they skip the review"
        :fault="faultOf(trouble, 'why')"
      >
        <el-input
          :id="id"
          v-model="why"
          style="--chars: 40"
          maxlength="500"
          @change="keep.go({ ...match, why })"
        />
      </Field>
      <Field
        v-if="sheet.stages.parked"
        v-slot="{ id }"
        :label="`The ${sheet.stages.parked} parked come back on`"
        :fault="faultOf(trouble, 'back_on')"
      >
        <DayField
          :id="id"
          :model-value="match.back_on ?? null"
          @update:model-value="(now) => keep.go({ ...match, back_on: now || null })"
        />
      </Field>
      <Field
        v-if="sheet.stages.declined"
        v-slot="{ id }"
        :label="`The ${sheet.stages.declined} declined are so for`"
        :fault="faultOf(trouble, 'declined_for')"
      >
        <Choice
          :id="id"
          :model-value="match.declined_for ?? ''"
          :options="sheet.decline_reasons"
          @update:model-value="(now) => keep.go({ ...match, declined_for: now })"
        />
      </Field>
    </div>
    <div class="row top">
      <Field v-for="one in SWITCHES" :key="one.key" v-slot="{ id }" :label="one.label">
        <Choice
          :id="id"
          :model-value="match[one.key] ? 'yes' : 'no'"
          :options="[
            { value: 'no', words: one.no },
            { value: 'yes', words: one.yes },
          ]"
          @update:model-value="(now) => keep.go({ ...match, [one.key]: now === 'yes' })"
        />
      </Field>
    </div>
    <Problem :error="keep.error.value" :fields="['stage', 'why', 'back_on', 'declined_for']" />
  </section>
</template>

<style scoped>
.top {
  align-items: flex-start;
  gap: 14px 20px;
}
</style>
