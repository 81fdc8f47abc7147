<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import PickPerson from '@/people/PickPerson.vue'
import PickDivision from './PickDivision.vue'
import { SOURCES } from './lists'
import { ROUTES } from './routes'

/** What narrows the list: a few words always, the rest on wish; what is set always shows. */
const props = defineProps<{ wanted: Record<string, string | number | boolean>; wide: boolean }>()
const emit = defineEmits<{ set: [change: Record<string, string | undefined>] }>()
const RARE = [
  'owner',
  'source',
  'system',
  'reach_from',
  'reach_to',
  'worth_from',
  'worth_to',
  'older_than',
  'route',
  'amendments',
  'asked',
]
const open = ref(RARE.some((name) => props.wanted[name] !== undefined))
const used = computed(() => RARE.filter((name) => props.wanted[name] !== undefined).length)
const systems = useQuery({
  queryKey: ['ideas', 'systems'],
  enabled: () => open.value && props.wide,
  queryFn: () => ask(api.GET('/api/v1/ideas/systems')),
})
const text = (name: string): string => String(props.wanted[name] ?? '')
const chosen = (name: string, event: Event) =>
  emit('set', { [name]: (event.target as HTMLInputElement).value.trim() || undefined })
const yes = (name: string) => emit('set', { [name]: props.wanted[name] ? undefined : '1' })
</script>

<template>
  <div class="stack tight">
    <div class="row">
      <slot />
      <PickDivision
        :model-value="Number(wanted.division) || null"
        nothing="every division"
        @update:model-value="(now: number | null) => emit('set', { division: now ? String(now) : undefined })"
      />
      <label class="row"
        ><input type="checkbox" :checked="!!wanted.late" @change="yes('late')" /> overdue</label
      >
      <button class="plain" :aria-expanded="open" @click="open = !open">
        {{ open ? 'Fewer filters' : used ? `More filters (${used} set)` : 'More filters' }}
      </button>
    </div>
    <div v-if="open" class="rare">
      <label
        >Work owner
        <PickPerson
          :model-value="Number(wanted.owner) || null"
          label="Work owner"
          plain
          @update:model-value="(now: number | null) => emit('set', { owner: now ? String(now) : undefined })"
      /></label>
      <label
        >Came in by
        <select :value="text('source')" aria-label="Came in by" @change="chosen('source', $event)">
          <option value="">any way</option>
          <option v-for="one in SOURCES" :key="one">{{ one }}</option>
        </select></label
      >
      <label
        >Route
        <select :value="text('route')" aria-label="Route" @change="chosen('route', $event)">
          <option value="">every route</option>
          <option v-for="one in ROUTES" :key="one">{{ one }}</option>
        </select></label
      >
      <label
        >System
        <select :value="text('system')" aria-label="System" @change="chosen('system', $event)">
          <option value="">any system</option>
          <option v-for="one in systems.data.value ?? []" :key="one.name" :value="one.name">
            {{ one.name }} ({{ one.ideas }})
          </option>
        </select></label
      >
      <label
        >Hours in reach, low end
        <span class="row"
          ><input
            type="text"
            inputmode="numeric"
            size="5"
            aria-label="Hours in reach from"
            placeholder="from"
            :value="text('reach_from')"
            @change="chosen('reach_from', $event)" />
          <input
            type="text"
            inputmode="numeric"
            size="5"
            aria-label="Hours in reach to"
            placeholder="to"
            :value="text('reach_to')"
            @change="chosen('reach_to', $event)" /></span
      ></label>
      <label
        >Worth a year
        <span class="row"
          ><input
            type="text"
            inputmode="numeric"
            size="6"
            aria-label="Worth from"
            placeholder="from"
            :value="text('worth_from')"
            @change="chosen('worth_from', $event)" />
          <input
            type="text"
            inputmode="numeric"
            size="6"
            aria-label="Worth to"
            placeholder="to"
            :value="text('worth_to')"
            @change="chosen('worth_to', $event)" /></span
      ></label>
      <label
        >In its stage for over, days
        <input
          type="text"
          inputmode="numeric"
          size="5"
          aria-label="In its stage for over, days"
          :value="text('older_than')"
          @change="chosen('older_than', $event)"
      /></label>
      <span class="stack tight">
        <label class="row"
          ><input type="checkbox" :checked="!!wanted.asked" @change="yes('asked')" /> asked back</label
        >
        <label class="row"
          ><input type="checkbox" :checked="!!wanted.amendments" @change="yes('amendments')" /> amendments
          only</label
        >
      </span>
    </div>
  </div>
</template>

<style scoped>
.rare {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  align-items: flex-start;
  border-top: 1px solid var(--hair);
  padding-top: 10px;
}
.rare label {
  font-size: 12.5px;
  color: var(--ink-2);
  display: grid;
  gap: 3px;
}
.rare label.row {
  display: flex;
  gap: 8px;
}
</style>
