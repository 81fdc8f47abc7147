<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { several } from '@/shared/format'
import Fold from '@/shared/Fold.vue'
import Needs from '@/shared/Needs.vue'
import DroppedInputs from './DroppedInputs.vue'
import SchemaForm from '@/shared/SchemaForm.vue'

/** One routine that could take a release: chosen or not, what is against it, its pre-check and what it is given then. */
const props = defineProps<{
  row: Schemas['CouldTake']
  schema: Record<string, unknown>
  chosen: boolean
  /** What it is given then, where somebody changed it. */
  inputs: Record<string, unknown> | null
  fault?: string
}>()
const emit = defineEmits<{ choose: [yes: boolean]; inputs: [now: Record<string, unknown>] }>()
const given = computed({
  get: () => props.inputs ?? props.row.inputs,
  set: (now: Record<string, unknown>) => emit('inputs', now),
})
const open = ref(false)
const takes = computed(() => Object.keys((props.schema.properties as object | undefined) ?? {}).length > 0)
// What is against it stands there already.
const unmet = computed(() =>
  props.row.needs.filter(
    (need) => !need.met && !props.row.against.some((one) => one.startsWith(`${need.words}:`)),
  ),
)
const met = computed(() => props.row.needs.filter((need) => need.met))
</script>

<template>
  <li class="stack tight">
    <p class="row">
      <el-checkbox
        :model-value="chosen"
        :disabled="row.against.length > 0"
        :aria-label="`Roll it out to ${row.name}`"
        @update:model-value="(yes) => emit('choose', !!yes)"
      />
      <router-link :to="`/workshop/routines/${row.id}`">{{ row.name }}</router-link>
      <span class="quiet">
        {{ row.area }}, {{ row.on_trial ? 'on trial' : 'in service'
        }}<template v-if="row.waiting"
          >; {{ several(row.waiting, 'run waits', 'runs wait') }} with {{ row.release_version }}</template
        >
      </span>
      <el-button v-if="takes" link type="primary" :aria-expanded="open" @click="open = !open">{{
        open ? 'Close its inputs' : 'Its inputs'
      }}</el-button>
    </p>
    <div class="below stack tight">
      <p v-for="one in row.against" :key="one" class="bad">{{ one }}</p>
      <p v-if="row.rollout">
        <router-link :to="`/workshop/rollouts/${row.rollout}`">The roll-out that changes it</router-link>
      </p>
      <p v-if="fault && !row.against.includes(fault)" class="bad">{{ fault }}</p>
      <Needs v-if="unmet.length" :needs="unmet" />
      <Fold v-if="met.length" :words="`${met.length} of its pre-check met`"><Needs :needs="met" /></Fold>
      <div v-if="open" class="stack tight">
        <DroppedInputs v-model="given" :schema="schema" />
        <SchemaForm v-model="given" :schema="schema" />
      </div>
    </div>
  </li>
</template>

<style scoped>
li {
  padding: 8px 0;
  border-bottom: 1px solid var(--hair);
}
.below {
  padding-left: 24px;
}
</style>
