import { type Health, readHealth } from '@dew-trail/contract/health'
import { useQuery } from '@tanstack/react-query'
import { useEffect } from 'react'
import { databaseAwayEvent } from '../api/call.ts'
import { keyOf } from '../api/use-endpoint.ts'
import { formatTime, formatWhole } from '../ui/format.ts'

const lookEveryMs = 15_000
const awayEveryMs = 2_000

/** Asks how the server is; it answers in one shape whether it is ready or not. */
async function askHealth(): Promise<Health> {
  const response = await fetch(readHealth.path, { method: readHealth.method })
  return (await response.json()) as Health
}

/** One line at the top while the database is away or the disk nearly full; nothing while all is well. */
export function HealthLine() {
  const { data, refetch } = useQuery({
    queryKey: keyOf(readHealth, {}),
    queryFn: askHealth,
    refetchInterval: ({ state }) => (state.data?.databaseAwaySince ? awayEveryMs : lookEveryMs),
    retry: false,
  })
  // What somebody did was refused for it: that is said at once, not at the next look.
  useEffect(() => {
    const look = (): void => void refetch()
    window.addEventListener(databaseAwayEvent, look)
    return () => window.removeEventListener(databaseAwayEvent, look)
  }, [refetch])
  const says = data ? sentenceOf(data) : null
  return says ? (
    <p className="health" role="alert">
      {says}
    </p>
  ) : null
}

function sentenceOf({ databaseAwaySince, disk }: Health): string | null {
  if (databaseAwaySince)
    return `The database has not answered since ${formatTime(databaseAwaySince)}. Dew Trail waits for it and work goes on then; what you change meanwhile is not saved.`
  if (disk.low)
    return `Only ${formatWhole(disk.freeMb ?? 0)} MB are free on the server's disk. Make room there before imports, crawls and checks fill it.`
  return null
}
