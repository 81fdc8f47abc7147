<script setup lang="ts">
import type { AutocompleteInstance } from 'element-plus'
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, type Schemas } from '@/api/client'
import { useKeys } from '@/shared/keys'

/** Finds whatever has a name or number, and what can be begun; by keys alone. */
const router = useRouter()
const box = ref<AutocompleteInstance | null>(null)
const words = ref('')
interface Line extends Partial<Schemas['Hit']> {
  value: string
  says?: string
}
let asked = 0
async function find(typed: string, show: (lines: Line[]) => void) {
  const mine = ++asked
  if (!typed.trim()) return show([])
  const found = await ask(api.GET('/api/v1/search', { params: { query: { words: typed, limit: 9 } } }))
  // What was typed meanwhile is asked for by itself; an older answer does not take its place.
  if (mine !== asked) return
  const lines: Line[] = found.rows.map((one) => ({ ...one, value: typed }))
  if (found.misspelt) lines.unshift({ value: typed, says: 'Nothing is written so; this is like it:' })
  if (!lines.length) lines.push({ value: typed, says: 'Nothing is called so, as far as you may see.' })
  if (found.of_all > found.rows.length)
    lines.push({ value: typed, link: everything(typed), name: `All ${found.of_all} that were found` })
  show(lines)
}
const everything = (typed: string): string => `/search?words=${encodeURIComponent(typed.trim())}`
function go(line: Record<string, unknown>) {
  if (!line.link) return
  words.value = ''
  box.value?.blur()
  void router.push(String(line.link))
}
/** Enter before anything was offered: to the one thing it can mean, or to all that was found. */
async function goOn() {
  const typed = words.value.trim()
  if (!typed) return
  asked += 1
  const found = await ask(api.GET('/api/v1/search', { params: { query: { words: typed, limit: 1 } } }))
  // Something offered was taken meanwhile.
  if (words.value.trim() !== typed) return
  go({ link: found.of_all === 1 && !found.misspelt ? found.rows[0]?.link : everything(typed) })
}
// The library names a choice before there is one; readers of the page aloud would stumble over it.
onMounted(() => box.value?.inputRef?.ref?.removeAttribute('aria-activedescendant'))
useKeys([{ key: '/', words: 'Find anything by its name or number', act: () => box.value?.focus() }])
</script>

<template>
  <el-autocomplete
    ref="box"
    v-model="words"
    class="find"
    popper-class="found"
    :fetch-suggestions="find"
    :debounce="120"
    :trigger-on-focus="false"
    highlight-first-item
    clearable
    placeholder="Find, or start …"
    aria-label="Find ideas, routines, runs, people, rules, or something to do"
    maxlength="200"
    @select="go"
    @keydown.enter="goOn"
  >
    <template #suffix><kbd v-if="!words" aria-hidden="true">/</kbd></template>
    <template #default="{ item }">
      <span v-if="item.says" class="quiet">{{ item.says }}</span>
      <span v-else class="hit">
        <span class="kind quiet">{{ item.kind === 'command' ? 'do' : item.kind }}</span>
        <span class="name"
          >{{ item.ref }} <b>{{ item.name }}</b> <span class="quiet">{{ item.more }}</span></span
        >
      </span>
    </template>
  </el-autocomplete>
</template>

<style scoped>
.find {
  width: 250px;
}
.find :deep(.el-input__wrapper) {
  background: var(--band-2);
  box-shadow: none;
  border: 1px solid transparent;
}
.find :deep(.el-input__wrapper.is-focus) {
  background: var(--sheet);
}
.find :deep(.el-input__inner) {
  color: var(--band-ink);
}
.find :deep(.el-input__inner::placeholder) {
  color: var(--band-ink-2);
}
.find :deep(.is-focus .el-input__inner) {
  color: var(--ink);
}
kbd {
  font: 12px/16px var(--text-face);
  color: var(--ink-2);
  border: 1px solid var(--hair-2);
  padding: 0 5px;
}
.hit {
  display: grid;
  grid-template-columns: 74px 1fr;
  gap: 8px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
}
@media (max-width: 700px) {
  .find {
    width: 100%;
  }
}
</style>
