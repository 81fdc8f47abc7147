<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useEdit } from '@/shared/useEdit'
import { faultOf } from '@/shared/faults'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import WholeField from '@/shared/WholeField.vue'

/** How long an idea may stay in a stage, and what it needs to get there. */
const query = useQuery({ queryKey: ['rules', 'stages'], queryFn: () => ask(api.GET('/api/v1/rules/stages')) })
interface Rule {
  days: number | null
  needs: string[]
}
const note = ref('')
const edit = useEdit<Record<string, Rule>>(
  () => {
    const stages = query.data.value?.stages
    return stages && Object.fromEntries(stages.map(({ stage, days, needs }) => [stage, { days, needs }]))
  },
  (stages, version) =>
    ask(
      api.PUT('/api/v1/rules/stages', {
        params: { header: { 'if-match': `"${version}"` } },
        body: { stages, note: note.value },
      }),
    ),
  {
    what: 'The stages',
    place: () => 'rules-stages',
    version: () => query.data.value?.version,
    touched: [['rules'], ['ideas']],
    beside: { note },
  },
)
const { fields, ready, save } = edit
const words = (key: string): string =>
  query.data.value?.can_need.find((one) => one.value === key)?.words ?? key
const said = (path: string, value: unknown): string | undefined =>
  path.endsWith('.needs') ? (value as string[]).map(words).join('; ') || 'nothing' : undefined
const wrong = (stage: string): string | undefined => faultOf(save.error.value, `${stage}.days`)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <SettingsForm
      v-if="query.data.value && ready"
      v-model:note="note"
      :edit="edit"
      :version="query.data.value.version"
      :versions="query.data.value.versions"
      :names="{ days: 'Left within, working days', needs: 'Needed to get there' }"
      :say="said"
    >
      <table class="ledger">
        <thead>
          <tr>
            <th style="width: 120px">Stage</th>
            <th style="width: 190px">Left within, working days</th>
            <th>Needed to get there</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, stage) in fields" :key="stage">
            <td><Glyph :state="String(stage)" /></td>
            <td>
              <WholeField
                v-model="row.days"
                :label="`${stage}: left within, working days`"
                placeholder="no limit"
                :invalid="!!wrong(String(stage))"
              />
              <div v-if="wrong(String(stage))" class="quiet bad" role="alert">{{ wrong(String(stage)) }}</div>
            </td>
            <td>
              <div class="row">
                <span v-for="need in row.needs" :key="need" class="chip">
                  {{ words(need) }}
                  <el-button
                    :aria-label="`${words(need)} is not needed for ${stage}`"
                    link
                    type="primary"
                    @click="row.needs = row.needs.filter((one) => one !== need)"
                  >
                    ×
                  </el-button>
                </span>
                <el-select
                  model-value=""
                  :aria-label="`Add what is needed for ${stage}`"
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
    </SettingsForm>
  </Loaded>
</template>
