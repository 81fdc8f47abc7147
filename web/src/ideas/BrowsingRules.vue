<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import { useSettings } from '@/shared/useSettings'

/** How far colleagues without a role in the team see ideas, and give them their voice. */
const query = useQuery({
  queryKey: ['rules', 'browsing'],
  queryFn: () => ask(api.GET('/api/v1/rules/browsing')),
})
const page = computed(() => query.data.value)
const settings = useSettings<{ reach: string }>({
  what: 'What colleagues see',
  name: 'browsing',
  rule: () => page.value,
  given: () => page.value && { reach: page.value.reach },
  put: (given, note, header) =>
    ask(api.PUT('/api/v1/rules/browsing', { params: { header }, body: { ...given, note } })),
  touched: [['rules'], ['ideas']],
})
const { fields, ready } = settings
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <SettingsForm v-if="page && ready" :settings="settings" :fields="['reach']">
      <h2>What colleagues see of each other’s ideas</h2>
      <p>
        Whoever has a part in an idea always sees it, and a role with the permission to see ideas reaches as
        far as its areas. Everybody else can look through ideas that were handed in, open what was attached to
        them, talk about them and join them with their own volume, as far as is said here. They see no figures
        of a case, no tally, and nothing that was declined or withdrawn.
      </p>
      <el-radio-group v-model="fields.reach" class="choices" aria-label="Colleagues see">
        <el-radio v-for="one in page.choices" :key="one.value" :value="one.value">{{ one.words }}</el-radio>
      </el-radio-group>
    </SettingsForm>
  </Loaded>
</template>
