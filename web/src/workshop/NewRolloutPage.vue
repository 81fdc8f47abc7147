<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultAt, faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { several } from '@/shared/format'
import FormEnd from '@/shared/FormEnd.vue'
import Loaded from '@/shared/Loaded.vue'
import { useUnsaved } from '@/shared/unsaved'
import ReleaseChanges from './ReleaseChanges.vue'
import RolloutHow from './RolloutHow.vue'
import RolloutRoutine from './RolloutRoutine.vue'
import { NO_STAGES, type Stages } from './rollout'

/** A release takes the place of another in routines: what differs for each, and whether each could start, comes first. */
const TYPING_MS = 250
const FIELDS = ['why', 'first', 'good_wanted', 'bad_allowed', 'routines.']
const route = useRoute()
const router = useRouter()
const path = computed(() => ({ path: { number: Number(route.params.id) } }))
// The inputs that somebody changed, by routine; the others keep what they have.
const inputs = reactive<Record<number, Record<string, unknown>>>({})
const typed = refDebounced(
  computed(() =>
    Object.entries(inputs).map(([id, given]) => ({ routine_id: Number(id), inputs: { ...given } })),
  ),
  TYPING_MS,
)
const query = useQuery({
  queryKey: ['routines', 'roll-out', () => Number(route.params.id), typed],
  placeholderData: keepPreviousData,
  queryFn: () =>
    ask(
      api.POST('/api/v1/releases/{number}/rollouts/look', {
        params: path.value,
        body: { routines: typed.value },
      }),
    ),
})
const data = computed(() => query.data.value)
const left = reactive(new Set<number>())
const could = computed(() => (data.value?.rows ?? []).filter((row) => !row.against.length))
const chosen = computed(() => could.value.filter((row) => !left.has(row.id)))
// What differs is the same for all that have the same release.
const groups = computed(() => {
  const found = new Map<string, NonNullable<typeof data.value>['rows']>()
  for (const row of data.value?.rows ?? [])
    found.set(row.release_version, [...(found.get(row.release_version) ?? []), row])
  return [...found].map(([version, rows]) => ({ version, rows, changes: rows[0]!.changes }))
})
const stages = ref<Stages>({ ...NO_STAGES })
const why = ref('')
const gone = ref(false)
useUnsaved('The roll-out', () => !gone.value && (!!why.value.trim() || Object.keys(inputs).length > 0))
const go = useAction(async () => {
  const { how, first, robot, area, good_wanted, bad_allowed } = stages.value
  const staged = how === 'staged'
  const made = await ask(
    api.POST('/api/v1/releases/{number}/rollouts', {
      params: path.value,
      body: {
        routines: chosen.value.map((row) => ({ routine_id: row.id, inputs: inputs[row.id] ?? null })),
        how,
        why: why.value,
        first_robot: staged && first === 'robot' ? robot : null,
        first_area: staged && first === 'area' ? area : null,
        good_wanted: good_wanted ?? 0,
        bad_allowed: bad_allowed ?? 0,
      },
    }),
  )
  gone.value = true
  await router.push(`/workshop/rollouts/${made.id}`)
})
watch(
  () => route.params.id,
  () => left.clear(),
)
const action = computed(() => {
  const what = several(chosen.value.length, 'routine', 'routines')
  return stages.value.how === 'staged' ? `Begin with some of ${what}` : `Roll it out to ${what}`
})
const choose = (id: number, yes: boolean) => (yes ? left.delete(id) : left.add(id))
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <form v-if="data" class="stack" @submit.prevent="go.go()">
      <div>
        <p class="quiet">
          <router-link to="/workshop?tab=packages">Packages</router-link> ·
          <router-link :to="`/workshop/releases/${path.path.number}`">{{ data.name }}</router-link>
        </p>
        <h1>Roll out {{ data.name }}</h1>
        <p class="lead">
          It takes the place of the release that these routines have. What waits already keeps the release it
          was made with.
        </p>
      </div>
      <p v-if="!data.rows.length" class="note">
        No routine that you may change has another release of this package.
        <router-link :to="`/workshop/routines/new?release=${path.path.number}`"
          >Set it up as a new one</router-link
        >
      </p>
      <p v-if="data.unseen" class="quiet">
        {{ several(data.unseen, 'more routine', 'more routines') }} of this package
        {{ data.unseen === 1 ? 'lies' : 'lie' }} where you may change nothing.
      </p>
      <section v-for="group in groups" :key="group.version" class="stack tight">
        <h2>Instead of {{ group.version }}</h2>
        <ReleaseChanges :changes="group.changes" />
        <ul class="routines" :aria-label="`Routines with ${group.version}`">
          <RolloutRoutine
            v-for="row in group.rows"
            :key="row.id"
            :row="row"
            :schema="data.input_schema"
            :chosen="!left.has(row.id) && !row.against.length"
            :inputs="inputs[row.id] ?? null"
            :fault="faultAt(go.error.value, `routines.${row.id}`)"
            @choose="(yes) => choose(row.id, yes)"
            @inputs="(now) => (inputs[row.id] = now)"
          />
        </ul>
      </section>
      <template v-if="data.rows.length">
        <RolloutHow v-model="stages" :robots="data.robots" :rows="chosen" :error="go.error.value" />
        <Field v-slot="{ id }" label="Why" :fault="faultOf(go.error.value, 'why')">
          <el-input :id="id" v-model="why" maxlength="500" style="--chars: 60" />
        </Field>
        <FormEnd
          :action="action"
          :busy="go.busy.value"
          :error="go.error.value"
          :fields="FIELDS"
          :wait="!chosen.length ? 'Choose a routine that can take it.' : why.trim() ? '' : 'Say why first.'"
        />
      </template>
    </form>
  </Loaded>
</template>

<style scoped>
.routines {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
