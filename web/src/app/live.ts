import { useQueryClient } from '@tanstack/vue-query'
import { onMounted, onUnmounted, readonly, ref } from 'vue'

const lost = ref<Date | null>(null)
const GATHER = 250
const TRY_AGAIN = 3_000

/** When the connection to the server was lost, or null while it is live. */
export const connectionLost = readonly(lost)

type Word = { subject: string } | { state: 'live' | 'lost' }

/**
 * Keeps pages current: one stream of hints per browser, held by one tab and passed on to the others.
 * A hint says that a subject changed; what is shown of it is asked for again.
 */
export function useLive() {
  const queries = useQueryClient()
  const gathered = new Set<string>()
  let timer: ReturnType<typeof setTimeout> | undefined
  let stream: EventSource | undefined
  let release: (() => void) | undefined
  let again: ReturnType<typeof setTimeout> | undefined
  let gone = false
  const others = new BroadcastChannel('tallyman-live')

  function refresh() {
    timer = undefined
    for (const subject of gathered) void queries.invalidateQueries({ queryKey: [subject] })
    void queries.invalidateQueries({ queryKey: ['today'] })
    gathered.clear()
  }

  function hear(word: Word) {
    if ('state' in word) {
      if (word.state === 'live' && lost.value) void queries.invalidateQueries()
      lost.value = word.state === 'live' ? null : (lost.value ?? new Date())
      return
    }
    gathered.add(word.subject)
    timer ??= setTimeout(refresh, GATHER)
  }

  function tell(word: Word) {
    hear(word)
    others.postMessage(word)
  }

  function open() {
    stream = new EventSource('/api/v1/events')
    stream.addEventListener('open', () => tell({ state: 'live' }))
    stream.addEventListener('error', () => {
      if (gone) return
      tell({ state: 'lost' })
      // The browser tries a broken connection again by itself, but not one that was answered with a no.
      if (stream?.readyState === EventSource.CLOSED) again = setTimeout(open, TRY_AGAIN)
    })
    stream.addEventListener('change', (event: MessageEvent<string>) =>
      tell({ subject: (JSON.parse(event.data) as { subject: string }).subject }),
    )
  }

  onMounted(() => {
    others.onmessage = (event: MessageEvent<Word>) => hear(event.data)
    if (!navigator.locks) return open()
    void navigator.locks.request(
      'tallyman-live',
      () =>
        new Promise<void>((done) => {
          // The turn may come only after the page is gone; it is then given on at once.
          if (gone) return done()
          release = done
          open()
        }),
    )
  })
  onUnmounted(() => {
    gone = true
    clearTimeout(again)
    stream?.close()
    release?.()
    others.close()
    clearTimeout(timer)
  })
}
