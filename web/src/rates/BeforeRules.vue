<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import { useSettings } from '@/shared/useSettings'

/** What becomes of a rate that is approved from a day since which something is posted. */
const query = useQuery({
  queryKey: ['rules', 'rates'],
  queryFn: () => ask(api.GET('/api/v1/rules/rates')),
})
const page = computed(() => query.data.value)
const settings = useSettings<{ from_before: string }>({
  what: 'Rates from before',
  name: 'rates-before',
  rule: () => page.value,
  given: () => page.value && { from_before: page.value.from_before },
  put: (given, note, header) =>
    ask(api.PUT('/api/v1/rules/rates', { params: { header }, body: { ...given, note } })),
  touched: [['rules'], ['rates']],
})
const { fields, ready } = settings
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <SettingsForm v-if="page && ready" :settings="settings" :fields="['from_before']">
      <h2>What becomes of rates from before</h2>
      <p>
        Each run and each count by hand is posted at the rates in force on its day. A rate that is approved
        late, from a day since which something is posted already, would leave two truths for those days. The
        first rate of an idea moves nothing and is always taken.
      </p>
      <el-radio-group v-model="fields.from_before" class="choices" aria-label="Rates from before">
        <el-radio v-for="one in page.choices" :key="one.value" :value="one.value">{{ one.words }}</el-radio>
      </el-radio-group>
      <p class="quiet"><router-link to="/value/rates">To the rates</router-link></p>
    </SettingsForm>
  </Loaded>
</template>
