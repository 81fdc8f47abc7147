<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { useSettings } from '@/shared/useSettings'
import { faultOf } from '@/shared/faults'
import { number, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import NumberField from '@/shared/NumberField.vue'
import Progress from '@/shared/Progress.vue'
import MovedSizings from './MovedSizings.vue'

/** The factors of first look and sizing, with what a change does to today's order and to today's sizings. */
const query = useQuery({
  queryKey: ['rules', 'factors'],
  queryFn: () => ask(api.GET('/api/v1/rules/factors')),
})
const errands = useQuery({
  queryKey: ['errands'],
  queryFn: () => ask(api.GET('/api/v1/errands')),
  refetchInterval: (state) =>
    state.state.data?.some((one) => ['waiting', 'running'].includes(one.state)) ? 1000 : false,
})
const under = computed(() =>
  errands.data.value?.find(
    (one) => one.kind === 'first looks anew' && ['waiting', 'running'].includes(one.state),
  ),
)
watch(under, (now, before) => before && !now && void query.refetch())
type Content = Record<string, Record<string, string>>
const page = computed(() => query.data.value)
const settings = useSettings<Content>({
  what: 'The factors',
  name: 'factors',
  rule: () => page.value,
  given: () =>
    page.value &&
    Object.fromEntries(
      page.value.groups.map((group) => [
        group.key,
        Object.fromEntries(group.rows.map((row) => [row.name, row.value])),
      ]),
    ),
  put: (content, note, header) =>
    ask(api.PUT('/api/v1/rules/factors', { params: { header }, body: { content, note } })),
  touched: [['rules']],
})
const { fields: content, changed, ready, save } = settings
const most = ref(12)
const seen = ref<Schemas['PreviewOut'] | null>(null)
// What it does to sizings takes the engine a while: each is reckoned twice.
const sizings = ref<number | null>(null)
watch(content, () => ((seen.value = null), (sizings.value = null)), { deep: true })
const preview = useAction(async () => {
  const body = { content: content.value }
  seen.value = await ask(api.POST('/api/v1/rules/factors/preview', { body }))
  sizings.value = (await ask(api.POST('/api/v1/rules/factors/preview/sizings', { body }))).id
}, [])
const anew = useAction(() => ask(api.POST('/api/v1/rules/factors/anew')), [['errands'], ['rules']])
const NAMES: Record<string, string> = {
  judge: 'Of ten, need judging: takes away at most',
  off: 'Of ten, off the usual way: takes away at most',
  width: 'Width of the range with nothing on file',
  'readiness under': 'Read by a robot for less than',
  'from this share on': 'Counts from this part of the input on',
  'hard to read input': 'Hard to read input, times',
  'a part of ours': 'Each part of ours that is used again',
}
const fault = (group: string, name: string) =>
  faultOf(preview.error.value, `${group}.${name}`) ?? faultOf(save.error.value, `${group}.${name}`)
const place = (value: number | null): string => (value === null ? 'none' : `${value}.`)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <SettingsForm
      v-if="page && ready"
      :settings="settings"
      :fields="page.groups.flatMap((group) => group.rows.map((row) => `${group.key}.${row.name}`))"
      :names="NAMES"
    >
      <template #before>
        <p v-if="page.by_others || under" class="note care">
          <template v-if="under">
            Reckoning anew: {{ under.done }} of {{ under.total }}. {{ under.words }}
            <Progress :done="under.done" :of="under.total" label="Reckoned anew" />
          </template>
          <template v-else>
            {{ several(page.by_others, 'open idea stands', 'open ideas stand') }} by former factors.
            <el-button :disabled="anew.busy.value" @click="anew.go()"
              >Reckon them by {{ page.name }}</el-button
            >
          </template>
        </p>
        <section v-if="changed" class="stack tight">
          <p class="row">
            <el-button :disabled="preview.busy.value" @click="preview.go()"
              >{{ preview.busy.value ? 'Reckoning …' : "See what it does to today's order" }}
            </el-button>
          </p>
          <template v-if="seen">
            <p>
              Of {{ number(seen.ideas) }} ranked ideas {{ number(seen.differ) }} would have other hours in
              reach, and <b>{{ number(seen.moved) }} would change their place</b>.
            </p>
            <table v-if="seen.rows.length" class="ledger">
              <thead>
                <tr>
                  <th>Idea</th>
                  <th class="num">Place now</th>
                  <th class="num">then</th>
                  <th class="num">Low end now, h a year</th>
                  <th class="num">then</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="row in seen.rows.slice(0, most)" :key="row.id">
                  <td>
                    <router-link class="whole" :to="`/ideas/${row.id}`"
                      >I-{{ row.id }} {{ row.title }}</router-link
                    >
                    <span class="quiet"> {{ row.stage }}</span>
                  </td>
                  <td class="num">{{ place(row.place_now) }}</td>
                  <td class="num">{{ place(row.place_then) }}</td>
                  <td class="num">{{ number(row.low_now) }}</td>
                  <td class="num">{{ number(row.low_then) }}</td>
                </tr>
              </tbody>
            </table>
            <MovedSizings v-if="sizings" :key="sizings" :errand="sizings" />
            <p v-if="seen.rows.length > most">
              <el-button link type="primary" @click="most = 200">Show more of those that move</el-button>
            </p>
          </template>
        </section>
        <Problem
          :error="preview.error.value ?? anew.error.value"
          :fields="page.groups.flatMap((group) => group.rows.map((row) => `${group.key}.${row.name}`))"
        />
      </template>
      <div class="groups">
        <section v-for="group in page.groups" :key="group.key" class="stack tight">
          <h2>{{ group.title }}</h2>
          <table class="ledger">
            <tbody>
              <tr v-for="row in group.rows" :key="row.name">
                <td>{{ NAMES[row.name] ?? row.name }}</td>
                <td class="num" style="width: 150px">
                  <span v-if="content[group.key]?.[row.name] !== row.standard" class="quiet"
                    >came as {{ row.standard }}
                  </span>
                  <NumberField
                    v-if="content[group.key]"
                    v-model="content[group.key]![row.name]"
                    :chars="5"
                    class="share"
                    :label="`${group.title}: ${row.name}`"
                    :invalid="!!fault(group.key, row.name)"
                  />
                  <div v-if="fault(group.key, row.name)" class="quiet bad" role="alert">
                    {{ fault(group.key, row.name) }}
                  </div>
                </td>
              </tr>
            </tbody>
          </table>
        </section>
      </div>
    </SettingsForm>
  </Loaded>
</template>

<style scoped>
.groups {
  columns: 2 340px;
  column-gap: 32px;
}
.groups section {
  break-inside: avoid;
  margin-bottom: 20px;
}
.share {
  text-align: right;
  padding: 1px 6px;
}
</style>
