<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import { faultOf } from '@/shared/faults'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import VersionNote from './VersionNote.vue'

/** How long an idea may stay in a stage, and what it needs to get there. */
const query = useQuery({ queryKey: ['rules', 'stages'], queryFn: () => ask(api.GET('/api/v1/rules/stages')) })
interface Rule {
  stage: string
  days: string
  needs: string[]
}
const rows = ref<Rule[]>([])
const note = ref('')
const was = ref('')
function read() {
  rows.value = (query.data.value?.stages ?? []).map((one) => ({
    stage: one.stage,
    days: one.days === null ? '' : String(one.days),
    needs: [...one.needs],
  }))
  was.value = JSON.stringify(rows.value)
  note.value = ''
}
const changed = computed(() => JSON.stringify(rows.value) !== was.value)
watch(
  () => query.data.value,
  () => (changed.value && was.value ? undefined : read()),
  { immediate: true },
)
const keep = useAction(async () => {
  await ask(
    api.PUT('/api/v1/rules/stages', {
      params: { header: { 'if-match': `"${seen.value}"` } },
      body: {
        stages: Object.fromEntries(
          rows.value.map((one) => [
            one.stage,
            { days: /^\d{1,4}$/.test(one.days.trim()) ? Number(one.days) : null, needs: one.needs },
          ]),
        ),
        note: note.value,
      },
    }),
  )
  was.value = JSON.stringify(rows.value)
  note.value = ''
}, [['rules'], ['ideas']])
const seen = useSeen(
  () => query.data.value?.version,
  keep.error,
  () => changed.value && was.value !== '',
)
// What somebody else kept meanwhile is read; what is typed stays.
watch(keep.error, (error) => error && void query.refetch())
const words = (key: string): string =>
  query.data.value?.can_need.find((one) => one.value === key)?.words ?? key
const wrong = (row: Rule): string | undefined =>
  row.days.trim() && !/^\d{1,4}$/.test(row.days.trim())
    ? 'give whole working days, or nothing for no limit'
    : faultOf(keep.error.value, `${row.stage}.days`)
const faulty = computed(() => rows.value.some((row) => row.days.trim() && !/^\d{1,4}$/.test(row.days.trim())))
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div class="stack">
      <table class="ledger">
        <thead>
          <tr>
            <th style="width: 120px">Stage</th>
            <th style="width: 190px">Left within, working days</th>
            <th>Needed to get there</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.stage">
            <td><Glyph :state="row.stage" /></td>
            <td>
              <el-input
                v-model="row.days"
                inputmode="numeric"
                style="--chars: 8"
                :aria-label="`${row.stage}: left within, working days`"
                :aria-invalid="!!wrong(row)"
                placeholder="no limit"
              />
              <div v-if="wrong(row)" class="quiet bad" role="alert">{{ wrong(row) }}</div>
            </td>
            <td>
              <div class="row">
                <span v-for="need in row.needs" :key="need" class="chip">
                  {{ words(need) }}
                  <el-button
                    :aria-label="`${words(need)} is not needed for ${row.stage}`"
                    link
                    type="primary"
                    @click="row.needs = row.needs.filter((one) => one !== need)"
                  >
                    ×
                  </el-button>
                </span>
                <el-select
                  model-value=""
                  :aria-label="`Add what is needed for ${row.stage}`"
                  placeholder="add …"
                  @change="(now: string) => row.needs.push(now)"
                >
                  <el-option
                    v-for="one in (query.data.value?.can_need ?? []).filter(
                      (one) => !row.needs.includes(one.value),
                    )"
                    :key="one.value"
                    :value="one.value"
                    :label="one.words"
                  />
                </el-select>
              </div>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="quiet">
        A limit counts for ideas that reach the stage from now on; days that were set stay. What is missing is
        named when somebody tries to move an idea on.
      </p>
      <VersionNote
        v-model="note"
        :version="query.data.value?.version ?? 0"
        :versions="query.data.value?.versions ?? []"
        :changed="changed"
        :busy="keep.busy.value || faulty"
        :error="keep.error.value"
        @keep="keep.go()"
        @leave="read"
      />
    </div>
  </Loaded>
</template>
