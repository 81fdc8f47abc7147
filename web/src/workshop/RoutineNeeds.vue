<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, watchEffect } from 'vue'
import { api, ask, type Schemas, type Working } from '@/api/client'
import Choice from '@/shared/Choice.vue'
import Field from '@/shared/Field.vue'
import Figure from '@/shared/Figure.vue'
import { several } from '@/shared/format'
import PreCheck from '@/shared/PreCheck.vue'
import WholeField from '@/shared/WholeField.vue'
import { NOTHING_ASKED } from './routineFields'

/** What a routine asks of a robot and its host, and how many robots have it, told while it is chosen. */
const props = defineProps<{ fault: (...names: string[]) => string | undefined; routine?: number }>()
const setup = defineModel<Schemas['RoutineIn']>({ required: true })
// A draft from before hosts told what they can do asks for nothing of them.
watchEffect(
  () => ((setup.value as Partial<Schemas['RoutineIn']>).asked ??= { ...NOTHING_ASKED, applications: [] }),
  { flush: 'sync' },
)
const asked = computed(() => setup.value.asked)
const TYPING_MS = 250
const wanted = refDebounced(
  computed(() => ({
    area_id: setup.value.area_id,
    release_id: setup.value.release_id,
    tags: [...(setup.value.tags ?? [])],
    asked: { ...asked.value, applications: [...asked.value.applications] },
    inputs: { ...setup.value.inputs },
    locks: [...(setup.value.locks ?? [])],
    run_limit: setup.value.run_limit ?? 1,
    attended: setup.value.attended ?? '',
    routine_id: props.routine ?? null,
  })),
  TYPING_MS,
)
const takers = useQuery({
  queryKey: ['robots', 'takers', wanted],
  enabled: () => wanted.value.area_id > 0 && wanted.value.release_id > 0,
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () => ask(api.POST('/api/v1/routines/takers', { body: wanted.value })),
})
const found = computed(() => takers.data.value)
const tags = computed({
  get: () => (setup.value.tags ?? []).join(', '),
  set: (text: string) =>
    (setup.value.tags = text
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean)),
})
const NUMBERS = [
  { key: 'processors', label: 'Processors, at least' },
  { key: 'memory_gb', label: 'Memory, GB at least' },
  { key: 'disk_gb', label: 'Disk, GB at least' },
] as const
// What is asked for stays to be seen where no host reports it any more.
const systems = computed(() =>
  [...new Set([...(found.value?.systems ?? []), asked.value.system])].filter(Boolean),
)
const applications = computed(() => [
  ...new Set([...(found.value?.applications ?? []), ...asked.value.applications]),
])
</script>

<template>
  <section class="stack tight">
    <h2>What it needs of a robot</h2>
    <div class="fields">
      <Field v-slot="{ id }" label="Tags beside the release's" :fault="props.fault('tags')">
        <el-input
          :id="id"
          v-model.lazy="tags"
          style="--chars: 14"
          :placeholder="found?.tags.slice(0, 2).join(', ') || 'such as print'"
        />
      </Field>
      <Field v-slot="{ id }" label="System" :fault="props.fault('asked.system')">
        <Choice :id="id" v-model="asked.system" nothing="any" none="" :options="systems" />
      </Field>
      <Field
        v-for="one in NUMBERS"
        :key="one.key"
        v-slot="{ id }"
        :label="one.label"
        :fault="props.fault(`asked.${one.key}`)"
      >
        <WholeField :id="id" v-model="asked[one.key]" :min="0" />
      </Field>
    </div>
    <el-checkbox v-model="asked.screen">a screen</el-checkbox>
    <el-checkbox-group
      v-if="applications.length"
      v-model="asked.applications"
      aria-label="Applications that its host must have"
    >
      <el-checkbox v-for="name in applications" :key="name" :value="name">{{ name }}</el-checkbox>
    </el-checkbox-group>
    <p v-if="found" role="status" :class="{ care: !found.able }">
      <Figure
        name="robots that can take it"
        :text="`${found.able} of ${several(found.robots, 'robot', 'robots')}`"
        :working="found.working as unknown as Working"
      />
      can take it<template v-if="!found.able">: a run would wait</template
      ><template v-if="found.unseen"
        >; {{ several(found.unseen, 'robot is', 'robots are') }} in areas that you may not see</template
      >.
    </p>
    <p v-else class="quiet">Once an area and a release are chosen, it says how many robots can take it.</p>
    <PreCheck
      v-if="found?.pre_check.length"
      short
      named="Pre-check of this set-up"
      :needs="found.pre_check"
    />
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(160px, 1fr));
  gap: 12px 20px;
  margin: 8px 0;
}
</style>
