<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import CaseBeside from './CaseBeside.vue'
import CaseMonths from './CaseMonths.vue'
import CasePdf from './CasePdf.vue'
import CaseTables from './CaseTables.vue'
import CaseYears from './CaseYears.vue'
import CaseVariants from './CaseVariants.vue'
import Conflict from '@/shared/Conflict.vue'
import { usePreview } from './usePreview'
import { useWantedField } from './useWantedField'
import { useFacts } from './useFacts'
import CaseFigures from './CaseFigures.vue'
import CaseInputs from './CaseInputs.vue'

/** The business case: figures with their workings, year by year, and the inputs. */
const props = defineProps<{ idea: Schemas['IdeaWhole'] }>()
const emit = defineEmits<{ supply: [sheet: string, field: string] }>()
const query = useQuery({
  queryKey: ['ideas', 'case', () => props.idea.id],
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}/case', { params: { path: { number: props.idea.id } } })),
})
const data = computed(() => query.data.value)
// While something is typed, the figures are those of what stands in the fields.
const figures = computed(() => preview.live.value?.figures ?? data.value?.figures)
const facts = useFacts(
  () => props.idea.id,
  () => data.value?.fields ?? [],
)
const locked = computed(() => !props.idea.may.size)
const showWanted = useWantedField()
watch(
  () => query.isSuccess.value,
  (there) => there && void showWanted(),
)

const preview = usePreview(() => props.idea.id)
/** The chance that it pays back is drawn with the sizing, whose ranges it rests on. */
const sizing = useQuery({
  queryKey: ['ideas', 'sizing', () => props.idea.id],
  queryFn: () =>
    ask(api.GET('/api/v1/ideas/{number}/sizing', { params: { path: { number: props.idea.id } } })),
})
const chances = computed(() => (preview.live.value?.ranges ?? sizing.data.value?.ranges)?.chances ?? [])
const asks = computed(() => (preview.live.value?.ranges ?? sizing.data.value?.ranges)?.asks ?? [])
const file = (form: string): string => `/api/v1/ideas/${props.idea.id}/case/${form}`
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data && figures" class="stack">
      <div class="spread">
        <p class="quiet">
          {{
            preview.live.value ? 'As typed; kept when you leave the field.' : 'Each figure opens its working.'
          }}
        </p>
        <p class="row">
          Take it out:
          <a :href="file('xlsx')" download>workbook that reckons</a>
          <CasePdf :idea="idea.id" />
          <a :href="file('json')" :download="`case-I-${idea.id}.json`">JSON</a>
        </p>
      </div>
      <div v-if="asks.length" class="note care stack tight">
        <p v-for="one in asks" :key="one.field + one.words">
          {{ one.words }}
          <el-button link type="primary" @click="emit('supply', 'sizing', one.field)">Look at it</el-button>
        </p>
      </div>
      <div v-if="data.missing.length" class="note care">
        Not all figures can be computed. Missing:
        <template v-for="(lack, n) in data.missing" :key="lack.field"
          ><template v-if="n">, </template
          ><el-button class="lack" link type="primary" @click="emit('supply', lack.sheet, lack.field)"
            >{{ lack.label }}
          </el-button></template
        >
      </div>
      <CaseFigures
        :data="data"
        :figures="figures"
        :chances="chances"
        @supply="(...to) => emit('supply', ...to)"
      />
      <CaseBeside :idea="idea" :data="data" />
      <CaseYears :data="data" :figures="figures" />
      <CaseMonths v-if="data.months" :idea="idea" :months="data.months" />
      <CaseVariants :idea="idea.id" />
      <Conflict
        v-if="facts.clash.value"
        :said="facts.clash.value.message"
        :rows="facts.rows.value"
        :names="facts.names.value"
        @settle="facts.settle"
      />
      <Problem :error="facts.error.value" />
      <CaseInputs :idea="idea" :data="data" :facts="facts" :preview="preview" :locked="locked" />
      <CaseTables :data="data" :locked="locked" @day="(day) => facts.keep('costs_on', day)" />
      <p class="quiet" role="status">
        {{
          facts.busy.value
            ? 'Keeping …'
            : locked
              ? 'You read this case; analysts and experts of its area change it from screening on.'
              : 'Each figure is kept when you leave its field.'
        }}
        Computed by {{ data.rules_version }}.
      </p>
    </div>
  </Loaded>
</template>

<style scoped>
.lack {
  padding: 0;
}
</style>
