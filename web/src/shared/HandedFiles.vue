<script setup lang="ts">
import { ref, shallowRef } from 'vue'
import type { Schemas } from '@/api/client'
import { useAction } from './action'
import FilePreview from './FilePreview.vue'
import { size } from './format'
import Problem from './Problem.vue'
import When from './When.vue'

/** Files that a run handed over, each to be taken or looked into; `at` is the address that they stand under. */
const props = defineProps<{ at: string; files: Schemas['RunFile'][] }>()
const SEEN = /\.(txt|csv|tsv|md|json|toml|xml|ics|log|png|jpe?g|gif|webp)$/i
const PICTURES = /\.(png|jpe?g|gif|webp)$/i
const opened = ref<number | null>(null)
const file = shallowRef<File | null>(null)
const look = useAction(async (one: Schemas['RunFile']) => {
  const answer = await fetch(`${props.at}/${one.id}`)
  if (!answer.ok) throw new Error(`${one.name} could not be read`)
  const ending = one.name.split('.').pop()!.toLowerCase()
  const type = PICTURES.test(one.name) ? `image/${ending === 'jpg' ? 'jpeg' : ending}` : 'text/plain'
  file.value = new File([await answer.blob()], one.name, { type })
  opened.value = one.id
})
const toggle = (one: Schemas['RunFile']) =>
  opened.value === one.id ? void (opened.value = null) : void look.go(one)
</script>

<template>
  <ul class="files">
    <li v-for="one in files" :key="one.id">
      <div class="spread">
        <a class="whole" :href="`${at}/${one.id}`" :download="one.name">{{ one.name }}</a>
        <span class="row">
          <span class="quiet">{{ size(one.size) }}, <When :at="one.at" /></span>
          <el-button
            v-if="SEEN.test(one.name)"
            size="small"
            :aria-expanded="opened === one.id"
            :aria-label="`${opened === one.id ? 'Close' : 'Look at'} ${one.name}`"
            :disabled="look.busy.value"
            @click="toggle(one)"
            >{{ opened === one.id ? 'Close' : 'Look' }}</el-button
          >
        </span>
      </div>
      <FilePreview v-if="opened === one.id && file" :file="file" bare />
    </li>
  </ul>
  <Problem :error="look.error.value" />
</template>

<style scoped>
.files {
  list-style: none;
  margin: 0;
  padding: 0;
}
.files li {
  padding: 8px 0;
  border-bottom: 1px solid var(--hair);
}
</style>
