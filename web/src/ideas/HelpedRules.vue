<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Loaded from '@/shared/Loaded.vue'
import NumberField from '@/shared/NumberField.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import { useSettings } from '@/shared/useSettings'

/** What one of each kind of help counts in the ranking. */
const query = useQuery({ queryKey: ['rules', 'helped'], queryFn: () => ask(api.GET('/api/v1/rules/helped')) })
const weights = computed(() => query.data.value?.weights ?? [])
const settings = useSettings<Record<string, string>>({
  what: 'What counts for help',
  name: 'helped',
  rule: () => query.data.value,
  given: () =>
    query.data.value && Object.fromEntries(query.data.value.weights.map((one) => [one.kind, one.weight])),
  put: (given, note, header) =>
    ask(api.PUT('/api/v1/rules/helped', { params: { header }, body: { weights: given, note } })),
  touched: [['rules'], ['thanks']],
})
const { fields, ready, save } = settings
const names = computed(() => Object.fromEntries(weights.value.map((one) => [one.kind, one.words])))
const wrong = (kind: string) => faultOf(save.error.value, `weights.${kind}`)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <SettingsForm v-if="ready" :settings="settings" :names="names">
      <h2>What counts in the ranking of who helped most</h2>
      <p>
        The points of each kind are how much of it there was, times its weight; 0 leaves a kind out. The
        ranking of months that are over follows as well.
        <router-link to="/ideas/thanks/ranking">The ranking</router-link>
      </p>
      <table class="ledger narrow">
        <thead>
          <tr>
            <th>For</th>
            <th style="width: 160px">Points</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in weights" :key="one.kind">
            <td>{{ one.words }}</td>
            <td>
              <NumberField
                v-model="fields[one.kind]"
                :label="`Points for ${one.words}`"
                :min="0"
                :max="1000"
                :invalid="!!wrong(one.kind)"
              />
              <div v-if="wrong(one.kind)" class="bad">{{ wrong(one.kind) }}</div>
            </td>
          </tr>
        </tbody>
      </table>
    </SettingsForm>
  </Loaded>
</template>

<style scoped>
.narrow {
  max-width: 680px;
}
</style>
