<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import DroppedInputs from './DroppedInputs.vue'
import ReleaseChange from './ReleaseChange.vue'
import RoutineNeeds from './RoutineNeeds.vue'
import WholeField from '@/shared/WholeField.vue'
import Choice from '@/shared/Choice.vue'
import AreaField from '@/shared/AreaField.vue'
import { later } from '@/shared/later'

const SchemaForm = later(() => import('@/shared/SchemaForm.vue'))
const WhereItWorks = later(() => import('./WhereItWorks.vue'))

/** What makes a routine: name, area, release, inputs, limits, and the idea it counts for. */
export type Setup = Schemas['RoutineIn']
const props = defineProps<{
  error: unknown
  counted?: string | null
  ideas: Schemas['IdeaName'][]
  areas: Schemas['AreaBelow'][]
  /** Of a routine in service: the release that it runs. */
  live?: number
  /** The routine that is being changed. */
  routine?: number
}>()
const setup = defineModel<Setup>({ required: true })

const releases = useQuery({ queryKey: ['packages', 'list'], queryFn: () => ask(api.GET('/api/v1/releases')) })
// One that is withdrawn stands there only where it is in use, and a try-out nowhere.
const choosable = computed(() =>
  (releases.data.value ?? []).filter(
    (one) => (!one.withdrawn_at && one.seen_by !== 'maker') || one.id === setup.value.release_id,
  ),
)
const release = useQuery({
  queryKey: ['packages', 'one', () => setup.value.release_id],
  enabled: () => setup.value.release_id > 0,
  queryFn: () =>
    ask(api.GET('/api/v1/releases/{number}', { params: { path: { number: setup.value.release_id } } })),
})
const schema = computed(() => release.data.value?.inputs ?? {})
const fault = (...names: string[]): string | undefined => faultOf(props.error, ...names)
const locks = computed({
  get: () => (setup.value.locks ?? []).join(', '),
  set: (text: string) =>
    (setup.value.locks = text
      .split(',')
      .map((lock) => lock.trim())
      .filter(Boolean)),
})
const BASES = [
  { value: 'run', words: 'a run that worked' },
  { value: 'count', words: 'what the package counts' },
] as const
const numbers = [
  { key: 'priority', label: 'Priority, 1 (highest) to 5' },
  { key: 'run_limit', label: 'At most at once' },
  { key: 'limit_minutes', label: 'Time limit, minutes' },
  { key: 'lease_minutes', label: 'Lost after silence of, minutes' },
  { key: 'memory_mb', label: 'Memory at most, MB' },
] as const
</script>

<template>
  <div class="stack">
    <div class="fields">
      <Field v-slot="{ id }" label="Name" :fault="fault('name')"
        ><el-input :id="id" v-model="setup.name" maxlength="160" style="--chars: 30"
      /></Field>
      <Field v-slot="{ id }" label="Area" :fault="fault('area', 'area_id')">
        <AreaField
          :id="id"
          :model-value="setup.area_id || null"
          :among="areas"
          @update:model-value="(now) => (setup.area_id = now ?? 0)"
        />
      </Field>
      <Field v-slot="{ id }" label="Release" :fault="fault('release', 'release_id')">
        <Choice
          :id="id"
          :model-value="setup.release_id || null"
          :options="
            choosable.map((one) => ({
              value: one.id,
              words: `${one.package} ${one.version}`,
            }))
          "
          placeholder="choose a release"
          @update:model-value="(now) => (setup.release_id = now ?? 0)"
        />
      </Field>
    </div>
    <ReleaseChange v-if="live && setup.release_id !== live" v-model="setup" :fault="fault('release_why')" />
    <section v-if="setup.release_id">
      <h2>Inputs</h2>
      <DroppedInputs v-model="setup.inputs!" :schema="schema" />
      <SchemaForm v-model="setup.inputs!" :schema="schema" :error="error" />
    </section>
    <section>
      <h2>Counts for</h2>
      <p v-if="counted">{{ counted }}</p>
      <div v-else class="fields">
        <Field
          v-slot="{ id }"
          label="Idea being built"
          :fault="fault('idea', 'idea_id')"
          :help="ideas.length ? '' : 'No idea is being built and not yet counted.'"
        >
          <Choice
            :id="id"
            :model-value="setup.idea_id ?? null"
            nothing="No idea"
            :options="ideas.map((idea) => ({ value: idea.id, words: `I-${idea.id} ${idea.title}` }))"
            @update:model-value="(now) => (setup.idea_id = now)"
          />
        </Field>
        <Field v-if="setup.idea_id" v-slot="{ id }" label="One unit is">
          <Choice :id="id" v-model="setup.basis" :options="BASES" />
        </Field>
        <Field
          v-if="setup.idea_id && setup.basis === 'count'"
          v-slot="{ id }"
          label="Name of the count"
          :fault="fault('count_name')"
        >
          <el-input :id="id" v-model="setup.count_name" maxlength="40" placeholder="such as letters" />
        </Field>
      </div>
    </section>
    <WhereItWorks v-model="setup" :fault="fault" />
    <RoutineNeeds v-model="setup" :fault="fault" :routine="routine" />
    <section>
      <h2>Limits</h2>
      <div class="fields">
        <Field
          v-for="one in numbers"
          :key="one.key"
          v-slot="{ id }"
          :label="one.label"
          :fault="fault(one.key)"
        >
          <WholeField :id="id" v-model="setup[one.key]" />
        </Field>
        <Field
          v-slot="{ id }"
          label="Locks, taken while it runs"
          help="Of all routines that take a lock, one runs at a time."
          :fault="fault('locks')"
        >
          <el-input :id="id" v-model.lazy="locks" placeholder="such as the login to Sumhall" />
        </Field>
      </div>
      <el-checkbox v-model="setup.again_after_lost"
        >Start again when a run is lost (only if running twice does no harm)</el-checkbox
      >
      <Field
        v-if="setup.again_after_lost"
        v-slot="{ id }"
        label="Attempts at most, the first included"
        help="A minute lies before the second, four times as long before each further one."
        :fault="fault('most_attempts')"
      >
        <WholeField :id="id" v-model="setup.most_attempts" />
      </Field>
    </section>
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 12px 20px;
  margin: 8px 0;
}
.fields > * {
  min-width: 0;
}
.fields :deep(.el-select) {
  max-width: 100%;
}
</style>
