<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import Choice from '@/shared/Choice.vue'

/** Which column of a list is what: guessed from the heads, changed here, kept at once. */
const props = defineProps<{ sheet: Schemas['SheetOut'] }>()
const match = ref<Record<string, number>>({ ...props.sheet.match })
const stage = ref(props.sheet.stage)
const why = ref(props.sheet.why)
const lenient = ref(props.sheet.lenient)
const field = (column: number): string =>
  Object.entries(match.value).find(([, at]) => at === column)?.[0] ?? ''
const fieldsFor = (column: number) =>
  props.sheet.fields.map((one) => {
    const elsewhere = one.value !== field(column) && taken.value.includes(one.value)
    return { value: one.value, words: elsewhere ? `${one.words} (taken)` : one.words }
  })
const STAGES = [
  { value: 'noted', words: 'noted: each goes through the review' },
  { value: 'screened', words: 'screened: the team has looked at them' },
]
const FAULTS = [
  { value: 'out', words: 'its line stays out' },
  { value: 'without', words: 'its line comes in without it' },
]
const keep = useAction(
  () =>
    ask(
      api.PUT('/api/v1/sheets/{number}/match', {
        params: {
          path: { number: props.sheet.id },
          header: { 'if-match': `"${props.sheet.version}"` },
        },
        body: { columns: match.value, stage: stage.value, why: why.value, lenient: lenient.value },
      }),
    ),
  [['sheets']],
)
function choose(column: number, name: string) {
  const next = Object.fromEntries(
    Object.entries(match.value).filter(([key, at]) => at !== column && key !== name),
  )
  match.value = name ? { ...next, [name]: column } : next
  void keep.go()
}
const taken = computed(() => Object.keys(match.value))
const lacking = computed(() =>
  props.sheet.fields.filter((one) => one.needed && !taken.value.includes(one.value)),
)
</script>

<template>
  <section class="stack tight">
    <h2>Which column is what</h2>
    <p class="quiet">
      The head was found in row {{ sheet.head_row }}; {{ sheet.total }} lines follow. A column that is nothing
      of this stays out.
    </p>
    <div class="columns">
      <table class="ledger">
        <thead>
          <tr>
            <th>Column</th>
            <th>Stands for</th>
            <th>What is in it</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(column, n) in sheet.columns" :key="n">
            <td>
              <b>{{ column.head || `column ${n + 1}` }}</b>
            </td>
            <td>
              <Choice
                :model-value="field(n)"
                :options="fieldsFor(n)"
                :label="`${column.head || `Column ${n + 1}`} stands for`"
                nothing="– stays out –"
                none=""
                @update:model-value="(now) => choose(n, now)"
              />
            </td>
            <td class="quiet sample">{{ column.sample.join(' · ').slice(0, 140) || 'empty' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="lacking.length" class="note care">Choose the column for “{{ lacking[0]?.words }}”.</p>
    <div class="row top">
      <Field v-slot="{ id }" label="They begin as" :fault="faultOf(keep.error.value, 'stage')">
        <Choice
          :id="id"
          v-model="stage"
          :options="STAGES"
          @update:model-value="stage === 'noted' && keep.go()"
        />
      </Field>
      <Field
        v-if="stage === 'screened'"
        v-slot="{ id }"
        label="Why they skip the review"
        :fault="faultOf(keep.error.value, 'why')"
      >
        <el-input :id="id" v-model="why" style="--chars: 40" maxlength="500" @change="keep.go()" />
      </Field>
      <Field v-slot="{ id }" label="A value that cannot be read">
        <Choice
          :id="id"
          :model-value="(lenient ? 'without' : 'out') as string"
          :options="FAULTS"
          @update:model-value="(now) => ((lenient = now === 'without'), keep.go())"
        />
      </Field>
    </div>
    <Problem :error="keep.error.value" :fields="['stage', 'why']" />
  </section>
</template>

<style scoped>
.top {
  align-items: flex-start;
  gap: 20px;
}
.sample {
  overflow-wrap: anywhere;
}
.columns {
  overflow-x: auto;
}
</style>
