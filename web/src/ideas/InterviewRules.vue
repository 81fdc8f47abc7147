<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import InterviewRule from './InterviewRule.vue'

/** The interviews that people are asked by, one chosen and changed at a time. */
const query = useQuery({
  queryKey: ['rules', 'interviews'],
  queryFn: () => ask(api.GET('/api/v1/rules/interviews')),
})
const kind = ref('full')
const all = computed(() => query.data.value ?? [])
const found = computed(() => all.value.find((one) => one.kind === kind.value))
const making = ref(false)
const name = ref('')
const taken = computed(() => all.value.some((one) => one.kind === name.value))
function make() {
  kind.value = name.value
  making.value = false
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div class="stack">
      <p class="row" role="group" aria-label="Interviews">
        <el-button
          v-for="one in all"
          :key="one.kind"
          class="chip"
          :class="{ on: one.kind === kind }"
          @click="((kind = one.kind), (making = false))"
        >
          {{ one.title }}<span v-if="!one.offered" class="quiet"> · not offered</span>
        </el-button>
        <el-button :aria-expanded="making" link type="primary" @click="making = !making"
          >Another interview</el-button
        >
      </p>
      <form v-if="making" class="note row" @submit.prevent="make">
        <Field
          v-slot="{ id }"
          label="A short key for it"
          :fault="taken ? 'there is one of this key' : undefined"
        >
          <el-input
            :id="id"
            v-model="name"
            maxlength="19"
            pattern="[a-z][a-z0-9-]{1,18}"
            placeholder="desk"
          />
        </Field>
        <el-button :disabled="taken || !/^[a-z][a-z0-9-]{1,18}$/.test(name)" native-type="submit"
          >Begin it</el-button
        >
        <span class="quiet">small letters, digits and dashes; it begins as a copy of the whole one</span>
      </form>
      <InterviewRule
        v-if="all.length"
        :key="kind"
        :kind="kind"
        :interview="found"
        :like="all.find((one) => one.kind === 'full')"
      />
    </div>
  </Loaded>
</template>
