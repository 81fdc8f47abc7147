<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import Loaded from '@/shared/Loaded.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import { useSettings } from '@/shared/useSettings'

/** What notches are given for. */
const query = useQuery({ queryKey: ['rules', 'thanks'], queryFn: () => ask(api.GET('/api/v1/rules/thanks')) })
const settings = useSettings({
  what: 'What notches are given for',
  name: 'thanks',
  rule: () => query.data.value,
  given: () => {
    const kinds = query.data.value?.kinds.filter((one) => one.given).map((one) => one.value)
    return kinds && { kinds: kinds.sort() }
  },
  put: ({ kinds }, note, header) =>
    ask(api.PUT('/api/v1/rules/thanks', { params: { header }, body: { kinds, note } })),
  touched: [['rules'], ['thanks']],
})
const { fields, ready } = settings
const given = (now: (string | number)[]) => (fields.value.kinds = now.map(String).sort())
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <SettingsForm
      v-if="query.data.value && ready"
      :settings="settings"
      :names="{ kinds: 'A notch is given for' }"
    >
      <p>A notch, once for a person and an idea, when somebody …</p>
      <el-checkbox-group
        :model-value="fields.kinds"
        class="stack tight"
        @update:model-value="(now) => given(now as string[])"
      >
        <el-checkbox v-for="one in query.data.value.kinds" :key="one.value" :value="one.value">{{
          one.words
        }}</el-checkbox>
      </el-checkbox-group>
      <p class="quiet">
        Notches given before stay. <router-link to="/ideas/thanks">See the thanks page</router-link>
      </p>
    </SettingsForm>
  </Loaded>
</template>
