import { useInfiniteQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, toValue, watch, type MaybeRefOrGetter, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** A column that a list can show: how it is headed, whether it holds figures, what it orders by. */
export interface Column {
  key: string
  name: string
  num?: boolean
  sort?: string
  width?: number
}
export type Wanted = Record<string, string | number | boolean>
/** What an address can ask of a list, and how each is read. */
export type Filters = Record<string, 'words' | 'whole' | 'yes'>

export interface ListOf<R> {
  key: readonly string[]
  filters: Filters
  columns: MaybeRefOrGetter<readonly Column[]>
  /** The columns shown until somebody chooses others; all of them, unless it is said. */
  usual?: readonly string[]
  sorts?: MaybeRefOrGetter<Readonly<Record<string, string>>>
  ask: (wanted: Wanted, sort: string, after: string | undefined) => Promise<Page<R>>
  /** Whether it is asked for, by the address. */
  enabled?: (one: (name: string) => string | undefined) => boolean
  /** Where the list is taken out to, without its ending. */
  out?: string
  endings?: readonly string[]
  every?: number
}
export interface Page<R> {
  rows: R[]
  next?: string | null
}

/** The filters of an address in the types that the API takes; what cannot be read is left out. */
export function wantedOf(one: (name: string) => string | undefined, filters: Filters): Wanted {
  const found: Wanted = {}
  for (const [name, kind] of Object.entries(filters)) {
    const value = one(name)
    if (value === undefined || value === '') continue
    if (kind === 'yes') found[name] = true
    else if (kind === 'words') found[name] = value
    else if (/^\d{1,9}$/.test(value)) found[name] = Number(value)
  }
  return found
}

const SETTLES = 250

/**
 * A list by its address: filters, order and columns stand in it, so that a link shows a colleague the same, and
 * what is asked of the server is what is shown as set, saved as a view and taken out.
 */
export function useList<R>(spec: ListOf<R>) {
  const route = useRoute()
  const router = useRouter()
  const one = (name: string): string | undefined =>
    typeof route.query[name] === 'string' ? route.query[name] : undefined
  function set(change: Record<string, string | undefined>) {
    void router.replace({ query: { ...route.query, ...change } })
  }
  const sorts = computed(() => toValue(spec.sorts) ?? {})
  const all = computed(() => toValue(spec.columns))
  const sort = computed({
    get: () =>
      one('sort') && one('sort')! in sorts.value ? one('sort')! : (Object.keys(sorts.value)[0] ?? ''),
    set: (now) => set({ sort: now }),
  })
  const usual = computed(() => spec.usual ?? all.value.map((column) => column.key))
  const columns = computed(() => {
    const asked = (one('cols') ?? '').split('-')
    const found = all.value.filter((column) => asked.includes(column.key))
    return found.length ? found : all.value.filter((column) => usual.value.includes(column.key))
  })
  function showColumn(key: string, on: boolean) {
    const now = columns.value.map((column) => column.key).filter((other) => other !== key)
    if (on) now.push(key)
    const kept = all.value.map((column) => column.key).filter((other) => now.includes(other))
    set({ cols: kept.join('-') || undefined })
  }

  // What is being typed is asked for once it settles; the address follows, and may lead.
  const words = ref(one('text') ?? '')
  watch(
    () => one('text'),
    (now) => (now ?? '') !== words.value.trim() && (words.value = now ?? ''),
  )
  watch(refDebounced(words, SETTLES), (now) => set({ text: now.trim() || undefined }))

  const wanted = computed(() => wantedOf(one, spec.filters))
  const filtered = computed(() => Object.keys(wanted.value).length > 0)
  function clear() {
    words.value = ''
    const names = Object.keys(spec.filters)
    const rest = Object.entries(route.query).filter(([name]) => !names.includes(name))
    void router.replace({ query: Object.fromEntries(rest) })
  }
  /** Filters, order and columns as a saved view keeps them. */
  const view = computed(() => {
    const given = [...Object.keys(spec.filters), 'sort', 'cols'].map((name) => [name, one(name) ?? ''])
    return new URLSearchParams(given.filter(([, value]) => value) as string[][]).toString()
  })
  function openView(query: string) {
    const given = Object.fromEntries(new URLSearchParams(query))
    words.value = given.text ?? ''
    void router.push({ query: given })
  }
  const out = (ending: string): string => {
    const given = Object.entries(wanted.value).map(([name, value]) => [name, String(value)])
    if (sort.value) given.push(['sort', sort.value])
    return `${spec.out}.${ending}?${new URLSearchParams(given)}`
  }

  const query = useInfiniteQuery({
    queryKey: [...spec.key, sort, wanted],
    enabled: () => spec.enabled?.(one) ?? true,
    initialPageParam: undefined as string | undefined,
    queryFn: ({ pageParam }) => spec.ask(wanted.value, sort.value, pageParam),
    getNextPageParam: (last) => last.next ?? undefined,
    refetchInterval: spec.every,
  })
  const rows = computed(() => query.data.value?.pages.flatMap((page) => page.rows) ?? []) as Ref<R[]>
  const ticked = ref<number[]>([])
  watch([wanted, sort], () => (ticked.value = []))
  return {
    ...{ spec, one, set, words, sort, sorts, all, columns, showColumn, wanted, filtered, clear },
    ...{ view, openView, out, query, rows, ticked },
  }
}
export type List<R> = ReturnType<typeof useList<R>>
