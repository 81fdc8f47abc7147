<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import { useSettings } from '@/shared/useSettings'
import { faultOf } from '@/shared/faults'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import WholeField from '@/shared/WholeField.vue'
import Choice from '@/shared/Choice.vue'

/** How long an idea may stay in a stage, and what it needs to get there. */
const query = useQuery({ queryKey: ['rules', 'stages'], queryFn: () => ask(api.GET('/api/v1/rules/stages')) })
interface Rule {
  days: number | null
  needs: string[]
}
const settings = useSettings<Record<string, Rule>>({
  what: 'The stages',
  name: 'stages',
  rule: () => query.data.value,
  given: () => {
    const stages = query.data.value?.stages
    return stages && Object.fromEntries(stages.map(({ stage, days, needs }) => [stage, { days, needs }]))
  },
  put: (stages, note, header) =>
    ask(api.PUT('/api/v1/rules/stages', { params: { header }, body: { stages, note } })),
  touched: [['rules'], ['ideas']],
})
const { fields, ready, save } = settings
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
      :settings="settings"
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
                <Choice
                  :model-value="'' as string"
                  :label="`Add what is needed for ${stage}`"
                  placeholder="add …"
                  :options="
                    (query.data.value?.can_need ?? []).filter((one) => !row.needs.includes(one.value))
                  "
                  @update:model-value="(now) => row.needs.push(now)"
                />
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
