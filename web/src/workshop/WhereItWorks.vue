<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Choice from '@/shared/Choice.vue'
import Field from '@/shared/Field.vue'
import PersonField from '@/shared/PersonField.vue'

/** Where a routine works: with robots, or on a person's own computer when they say so, and whose that is. */
const props = defineProps<{ fault: (...names: string[]) => string | undefined }>()
const setup = defineModel<Schemas['RoutineIn']>({ required: true })
const PLACES = [
  { value: '', words: 'with any robot that may take it' },
  { value: 'answer', words: "on a person's own computer, who need not stay" },
  { value: 'whole', words: "on a person's own computer, who has to be there" },
] as const
const HELP: Record<string, string> = {
  answer: 'It asks them first; they may leave it alone meanwhile.',
  whole: 'It asks them first; the time that it works is taken off what it saves.',
}
</script>

<template>
  <section>
    <h2>Where it works</h2>
    <div class="fields">
      <Field
        v-slot="{ id }"
        label="It works"
        :fault="props.fault('attended')"
        :help="HELP[setup.attended ?? '']"
      >
        <Choice :id="id" v-model="setup.attended" :options="PLACES" />
      </Field>
      <Field
        v-if="setup.attended"
        v-slot="{ id }"
        label="For whom"
        :fault="props.fault('attended_for')"
        help="Nobody named: for whoever starts it."
      >
        <PersonField
          :id="id"
          :model-value="setup.attended_for ?? null"
          plain
          label="For whom"
          placeholder="whoever starts it"
          @update:model-value="(now) => (setup.attended_for = now)"
        />
      </Field>
    </div>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(320px, 1fr));
  gap: 12px 20px;
  margin: 8px 0;
}
</style>
