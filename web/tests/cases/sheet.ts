import { computed, reactive, ref } from 'vue'

/** A sheet as its fields see one, which writes down what is kept. */
export function sheetOf(values: Record<string, unknown>, version = 1) {
  const facts = reactive(values)
  const kept: unknown[][] = []
  const versions = reactive<Record<string, number>>({})
  const faults = reactive<Record<string, string>>({})
  const keep = (...what: unknown[]) => Promise.resolve(void kept.push(what))
  const sheet = {
    ...{ keep, typedOver: keep, leave: keep, preview: null, busy: ref(0) },
    locked: ref(false),
    value: (field: string) => facts[field],
    rowsOf: (field: string) => (facts[field] || []) as unknown[],
    of: (field: string) => ({
      ...{ field, label: field, source: '', date: '', own: false },
      value: facts[field],
      version: versions[field] ?? version,
    }),
    has: (field: string) => field in facts,
    fault: (field: string) => faults[field],
    error: computed(() => null),
  }
  return { sheet, facts, kept, versions, faults }
}
