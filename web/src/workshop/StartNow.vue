<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Confirm from '@/shared/Confirm.vue'
import PreCheck from '@/shared/PreCheck.vue'
import Problem from '@/shared/Problem.vue'

/** Starting a routine that cannot begin this moment: what it would wait for is seen before the yes. */
const props = defineProps<{ routine: Schemas['Routine']; busy: boolean; error: unknown }>()
const barred = computed(() => props.routine.pre_check.some((need) => !need.met && need.bars))
const emit = defineEmits<{ yes: []; leave: []; 'set-up': [] }>()
</script>

<template>
  <Confirm
    :model-value="true"
    :title="`Start ${routine.name} now`"
    action="Start it, and let it wait"
    wide
    :busy="busy"
    :off="barred"
    @update:model-value="emit('leave')"
    @yes="emit('yes')"
  >
    <PreCheck short :needs="routine.pre_check" :able="routine.may.change" @set-up="emit('set-up')" />
    <p v-if="barred">What lies in its set-up does not pass by itself: mend it first, then start it.</p>
    <p v-else class="quiet">
      A run started now waits until what is not met has come true, and begins by itself. Its page says at
      every moment what it waits for.
    </p>
    <Problem :error="error" />
  </Confirm>
</template>
