<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import { useSettings } from '@/shared/useSettings'

/** How cases are reckoned: whether a small idea carries a whole seat, or its share of a robot. */
const query = useQuery({
  queryKey: ['rules', 'cases'],
  queryFn: () => ask(api.GET('/api/v1/rules/cases')),
})
const page = computed(() => query.data.value)
const settings = useSettings<{ seats: string }>({
  what: 'How cases are reckoned',
  name: 'case-rule',
  rule: () => page.value,
  given: () => page.value && { seats: page.value.seats },
  put: (given, note, header) =>
    ask(api.PUT('/api/v1/rules/cases', { params: { header }, body: { ...given, note } })),
  touched: [['rules'], ['ideas']],
})
const { fields, ready } = settings
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <SettingsForm v-if="page && ready" :settings="settings" :fields="['seats']">
      <h2>What a case counts for the seats of its robots</h2>
      <p>
        Counted whole, every idea carries the seats that it would need alone, were it 51 hours a year. Counted
        by its share, ideas that use one robot together carry a part each, so that small ones are judged
        fairly; what stays unused is nobody's, and stands under Value at each month's end. Each case shows
        both figures; promises keep the way of their day.
      </p>
      <el-radio-group v-model="fields.seats" class="choices" aria-label="Seats in cases">
        <el-radio v-for="one in page.choices" :key="one.value" :value="one.value">{{ one.words }}</el-radio>
      </el-radio-group>
    </SettingsForm>
  </Loaded>
</template>
