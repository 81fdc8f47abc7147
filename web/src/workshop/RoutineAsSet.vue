<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useMe } from '@/shared/session'

/** How a routine is set up: its limits, tags and inputs. */
const props = defineProps<{ routine: Schemas['Routine'] }>()
const { may } = useMe()
const emit = defineEmits<{ change: []; retire: [] }>()
const asked = computed(() => {
  const { system, processors, memory_gb, disk_gb, screen, applications } = props.routine.asked
  return [
    system,
    processors && `${processors} processors`,
    memory_gb && `${memory_gb} GB memory`,
    disk_gb && `${disk_gb} GB disk`,
    screen && 'a screen',
    ...applications,
  ].filter(Boolean)
})
const inputs = computed(() =>
  Object.entries(props.routine.inputs).map(([name, value]) => {
    const text = typeof value === 'string' ? value : JSON.stringify(value)
    return { name, text: text.startsWith('file:') ? text.split('/').slice(1).join('/') : text }
  }),
)
</script>

<template>
  <section>
    <h2>Set up</h2>
    <p>
      Priority {{ routine.priority }}, at most {{ routine.run_limit }} at once, time limit
      {{ routine.limit_minutes }} min and {{ routine.memory_mb }} MB, lost after
      {{ routine.lease_minutes }} min of silence,<template v-if="routine.locks.length">
        takes the lock {{ routine.locks.join(', ') }},</template
      >
      {{ routine.checkpoints ? 'can be paused' : 'cannot be paused (no checkpoints)' }},
      {{
        routine.again_after_lost
          ? `then started again, ${routine.most_attempts} attempts at most`
          : 'not started again'
      }}. Needs the tags {{ [...routine.release_tags, ...routine.tags].join(', ') || 'none'
      }}<template v-if="asked.length">, and a host with {{ asked.join(', ') }}</template
      >.
    </p>
    <table v-if="inputs.length" class="ledger">
      <tbody>
        <tr v-for="one in inputs" :key="one.name">
          <td style="width: 200px">{{ one.name }}</td>
          <td>{{ one.text }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">No inputs given; the package takes its own.</p>
    <p v-if="routine.may.change || routine.may.retire" class="row">
      <el-button v-if="routine.may.change" @click="emit('change')">Change the set-up</el-button>
      <router-link v-if="may('routine.make')" :to="`/workshop/routines/new?copy=${routine.id}`" class="button"
        >Copy it to another area</router-link
      >
      <el-button v-if="routine.may.retire" link type="danger" @click="emit('retire')">Retire it</el-button>
    </p>
  </section>
</template>
