<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Choice from '@/shared/Choice.vue'
import Field from '@/shared/Field.vue'

/** A routine in service takes another release: tried first, or at once for a reason. */
defineProps<{ fault?: string }>()
const setup = defineModel<Schemas['RoutineIn']>({ required: true })
const TRIES = [
  { value: 'trial', words: 'tried first: its runs post nothing until it goes live again' },
  { value: 'once', words: 'at once' },
] as const
</script>

<template>
  <section class="note stack tight">
    <p>It is in service, and this is another release than it runs.</p>
    <div class="row top">
      <Field v-slot="{ id }" label="The release is">
        <Choice
          :id="id"
          :model-value="setup.trial_again ? 'trial' : 'once'"
          :options="TRIES"
          @update:model-value="(now) => (setup.trial_again = now === 'trial')"
        />
      </Field>
      <Field v-if="!setup.trial_again" v-slot="{ id }" label="Why without a trial" :fault="fault">
        <el-input :id="id" v-model="setup.release_why" maxlength="500" style="--chars: 46" />
      </Field>
    </div>
  </section>
</template>
