/** The page of an object that the upkeep names as `run:12`, or nothing. */
export function pageOf(object: string): string {
  const [subject, id] = object.split(':')
  const pages: Record<string, string> = {
    run: `/runs/${id}`,
    idea: `/ideas/${id}`,
    routine: `/workshop/routines/${id}`,
  }
  return pages[subject ?? ''] ?? ''
}
