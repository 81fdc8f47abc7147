<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import HangsOn from '@/shared/HangsOn.vue'
import { useUnsaved } from '@/shared/unsaved'
import Problem from '@/shared/Problem.vue'

/**
 * Taking something out of use: what hangs on it is seen before the yes, and what must be done first is named.
 * `subject` and `number` tell one look from another.
 */
const props = defineProps<{
  subject: string
  number: number
  name: string
  look: () => Promise<Schemas['Retiring']>
  act: (why: string) => Promise<unknown>
  /** What is done, where it is another word. */
  verb?: string
  /** What is asked for as a reason, where one is needed. */
  reason?: string
}>()
const why = ref('')
useUnsaved('The reason', () => why.value !== '')
const emit = defineEmits<{ leave: []; done: [] }>()
const query = useQuery({
  queryKey: [props.subject, 'retiring', props.number],
  queryFn: () => props.look(),
  staleTime: 0,
  gcTime: 0,
})
const seen = computed(() => query.data.value)
const go = useAction(async () => {
  await props.act(why.value)
  emit('done')
  emit('leave')
})
</script>

<template>
  <Confirm
    :model-value="true"
    :title="`${verb ?? 'Retire'} ${name}`"
    :action="`${verb ?? 'Retire'} it`"
    wide
    :busy="go.busy.value || query.isFetching.value"
    :off="!seen || seen.against.length > 0"
    @update:model-value="emit('leave')"
    @yes="go.go()"
  >
    <p v-if="query.isPending.value" class="quiet" role="status">Looking at what hangs on it …</p>
    <template v-if="seen">
      <div v-if="seen.against.length" class="note care" role="status">
        <p>First:</p>
        <ul>
          <li v-for="one in seen.against" :key="one">{{ one }}</li>
        </ul>
      </div>
      <HangsOn v-if="seen.hangs.length || seen.unseen" :hangs="seen.hangs" :unseen="seen.unseen" />
      <p v-else-if="!seen.against.length">Nothing hangs on it.</p>
      <p>{{ seen.stays }}</p>
      <Field v-if="reason" v-slot="{ id }" :label="reason" :fault="faultOf(go.error.value, 'why')">
        <el-input
          :id="id"
          v-model="why"
          maxlength="500"
          style="--chars: 55"
          placeholder="it stands wherever somebody would start it"
        />
      </Field>
    </template>
    <Problem :error="query.error.value ?? go.error.value" :fields="['why']" />
  </Confirm>
</template>
