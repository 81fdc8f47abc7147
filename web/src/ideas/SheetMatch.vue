<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** Which column of a list is what: guessed from the heads, changed here, kept at once. */
const props = defineProps<{ sheet: Schemas['SheetOut'] }>()
const match = ref<Record<string, number>>({ ...props.sheet.match })
const stage = ref(props.sheet.stage)
const why = ref(props.sheet.why)
const lenient = ref(props.sheet.lenient)
const field = (column: number): string =>
  Object.entries(match.value).find(([, at]) => at === column)?.[0] ?? ''
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
              <el-select
                :model-value="field(n)"
                :aria-label="`${column.head || `Column ${n + 1}`} stands for`"
                :empty-values="[undefined]"
                filterable
                @change="(now: string) => choose(n, now)"
              >
                <el-option value="" label="– stays out –" />
                <el-option
                  v-for="one in sheet.fields"
                  :key="one.value"
                  :value="one.value"
                  :label="`${one.words}${one.value !== field(n) && taken.includes(one.value) ? ' (taken)' : ''}`"
                />
              </el-select>
            </td>
            <td class="quiet sample">{{ column.sample.join(' · ').slice(0, 140) || 'empty' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="lacking.length" class="note care">Choose the column for “{{ lacking[0]?.words }}”.</p>
    <div class="row top">
      <Field v-slot="{ id }" label="They begin as" :fault="faultOf(keep.error.value, 'stage')">
        <el-select :id="id" v-model="stage" @change="stage === 'noted' && keep.go()"
          ><el-option value="noted" label="noted: each goes through the review" />
          <el-option value="screened" label="screened: the team has looked at them"
        /></el-select>
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
        <el-select
          :id="id"
          :model-value="lenient ? 'without' : 'out'"
          @change="(now: string) => ((lenient = now === 'without'), keep.go())"
        >
          <el-option value="out" label="its line stays out" />
          <el-option value="without" label="its line comes in without it" />
        </el-select>
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
