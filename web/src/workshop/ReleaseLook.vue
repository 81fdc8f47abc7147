<script setup lang="ts">
import type { Schemas } from '@/api/client'
import ReleaseChanges from './ReleaseChanges.vue'

/** What a package would be as a release: what changed since the one before, and which number says so, if any. */
defineProps<{ look: Schemas['ReleaseLook']; numberless?: boolean }>()
const says = defineModel<Schemas['NextNumber']['says'] | ''>({ required: true })
const WORDS = {
  fix: 'fix: whoever set it up goes on as before',
  addition: 'addition: there is more to rely on, and nothing less',
  breaking: 'breaking: some of those who set it up must do something',
} as const
</script>

<template>
  <section class="note stack tight" role="status">
    <h3>{{ look.package }}{{ look.number && !numberless ? ` ${look.number}` : '' }}</h3>
    <p v-if="look.about" class="quiet">{{ look.about }}</p>
    <p v-if="!look.before">It is the first release of this package.</p>
    <template v-else>
      <p>
        Since {{ look.before }} it changed, as found: <b>{{ look.found }}</b>.<template
          v-if="look.said && !numberless"
        >
          Its number says {{ look.said }}.</template
        >
      </p>
      <ReleaseChanges :changes="look.changes" />
      <template v-if="!numberless">
        <p v-for="one in look.against" :key="one" class="care">{{ look.number }} {{ one }}.</p>
      </template>
      <fieldset v-if="look.numbers.length && !numberless">
        <legend class="quiet">So it is a</legend>
        <el-radio-group v-model="says" class="column">
          <el-radio v-for="one in look.numbers" :key="one.says" :value="one.says" :disabled="!one.enough">
            {{ WORDS[one.says] }} <b>{{ one.number }}</b><span v-if="!one.enough" class="quiet"
              >: less than was found</span
            >
          </el-radio>
        </el-radio-group>
      </fieldset>
    </template>
  </section>
</template>

<style scoped>
.column {
  flex-direction: column;
  align-items: flex-start;
}
</style>
