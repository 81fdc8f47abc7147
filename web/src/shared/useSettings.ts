import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useEdit } from './useEdit'

interface Rule {
  version: number
  versions: Schemas['VersionRow'][]
}
export interface SettingsOf<T> {
  /** What is set, in words. */
  what: string
  /** Its name among the house rules, which tells its drafts apart. */
  name: string
  /** As the server has it: nothing while it is read, or before there is any. */
  rule: () => Rule | undefined
  /** Its content as the form edits it. */
  given: () => T | undefined
  /** Keeps it with a note on what changes and why; `header` names the version that the typing began with. */
  put: (content: T, note: string, header: { 'if-match': string }) => Promise<unknown>
  /** What is asked again once it is kept. */
  touched: string[][]
}

/** The editing of a house rule: as anything with a version, with a note on each change. `SettingsForm` takes it. */
export function useSettings<T extends object>(spec: SettingsOf<T>) {
  const note = ref('')
  const edit = useEdit<T>(
    spec.given,
    (content, version) => spec.put(content, note.value, { 'if-match': `"${version}"` }),
    {
      what: spec.what,
      place: () => `rules-${spec.name}`,
      version: () => spec.rule()?.version ?? 0,
      touched: spec.touched,
      beside: { note },
    },
  )
  return {
    ...edit,
    edit,
    note,
    version: computed(() => spec.rule()?.version ?? 0),
    versions: computed(() => spec.rule()?.versions ?? []),
  }
}
export type Settings<T extends object> = ReturnType<typeof useSettings<T>>
