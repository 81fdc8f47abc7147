<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import Problem from '@/shared/Problem.vue'
import { useDraft } from '@/shared/unsaved'
import PromiseLook from './PromiseLook.vue'

/** Backing an idea: shows what will be frozen before it is. */
const props = defineProps<{ idea: number; title: string }>()
const open = ref(false)
const words = ref('')
const query = useQuery({
  queryKey: ['ideas', 'case', () => props.idea],
  enabled: open,
  queryFn: () => ask(api.GET('/api/v1/ideas/{number}/case', { params: { path: { number: props.idea } } })),
})
const data = computed(() => query.data.value)
// Frozen at today's rows or at those of the case; what was seen of it goes along.
const todays = ref(false)
const shown = computed(() => (todays.value ? data.value?.tables.today : data.value?.figures)?.npv_3y)
const back = useAction(async () => {
  await ask(
    api.POST('/api/v1/ideas/{number}/back', {
      params: { path: { number: props.idea } },
      body: { words: words.value, todays_rows: todays.value, worth: shown.value },
    }),
  )
  unsent.done()
  open.value = false
})
// Where it was refused because the case moved, the figures are shown as they are now.
watch(back.error, (problem) => problem && void query.refetch())
const unsent = useDraft('Your words on backing', () => `back-${props.idea}`, { words }, { open })
</script>

<template>
  <span>
    <el-button type="primary" @click="open = true">Back this idea</el-button>
    <Confirm
      v-model="open"
      :title="`Back I-${idea} ${title}`"
      action="Back it and freeze the promise"
      :busy="back.busy.value"
      :wide="!!data?.tables.today"
      :off="!data || data.missing.length > 0"
      @yes="back.go()"
    >
      <template v-if="data">
        <p v-if="data.missing.length" class="note care">
          The case still lacks {{ data.missing.map((lack) => lack.label).join(', ') }}; it cannot be backed
          before.
        </p>
        <PromiseLook v-else v-model="todays" :data="data" />
        <p class="quiet">
          These figures are frozen as the promise. What is delivered is set against them; later changes do not
          touch them.
        </p>
        <el-input
          v-model="words"
          :rows="2"
          aria-label="Why, in a sentence"
          placeholder="Why, in a sentence"
          maxlength="1000"
          type="textarea"
        />
      </template>
      <Problem :error="back.error.value" />
    </Confirm>
  </span>
</template>
