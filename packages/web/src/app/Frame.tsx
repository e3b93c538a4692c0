import { Box } from '@chakra-ui/react'
import { stageNames, type TraceStart } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Suspense, useEffect, useMemo, useState } from 'react'
import { Outlet, useLocation, useNavigate, useParams } from 'react-router'
import { ClientProvider, useHref } from '../context/ClientContext.tsx'
import { TraceContext } from '../context/TraceContext.tsx'
import { useKey } from '../ui/keys.ts'
import { courseQuery } from './appQueries.ts'
import { CourseBar } from './CourseBar.tsx'
import { JobsProvider } from './JobsProvider.tsx'
import { KeysDialog } from './KeysDialog.tsx'
import { TopBar } from './TopBar.tsx'
import { TracePanel } from './TracePanel.tsx'

/** What surrounds every page of a client: top bar, course, trace panel, keys. */
export const Frame = () => {
  const clientId = Number(useParams().client)
  const { data, error } = useQuery(courseQuery(clientId))
  const [start, setStart] = useState<TraceStart | null>(null)
  const trace = useMemo(() => ({ start, open: setStart, close: () => setStart(null) }), [start])
  if (error)
    return (
      <Box p="24px" className="crimson" role="alert">
        {error.message} <a href="/">All clients</a>
      </Box>
    )
  if (!data) return null
  return (
    <ClientProvider value={{ ...data.client, latest: data.latest }}>
      <JobsProvider key={clientId} clientId={clientId}>
        <TraceContext.Provider value={trace}>
          <FramedPage course={data} />
        </TraceContext.Provider>
      </JobsProvider>
    </ClientProvider>
  )
}

const FramedPage = ({ course }: { readonly course: Parameters<typeof CourseBar>[0]['course'] }) => {
  const [keysOpen, setKeysOpen] = useState(false)
  const navigate = useNavigate()
  const href = useHref()
  const { pathname } = useLocation()
  useKey('?', () => setKeysOpen(true))
  useStageKeys(stage => void navigate(href(`/${stage}`)))
  useEffect(() => {
    document.title = `${course.client.name} · Culvert`
    if (pathname) window.scrollTo({ top: 0 })
  }, [course.client.name, pathname])
  return (
    <>
      <TopBar pulledTo={course.pulledTo} onKeys={() => setKeysOpen(true)} />
      <CourseBar course={course} />
      <Suspense fallback={<Box h="60vh" />}>
        <Outlet />
      </Suspense>
      <TracePanel />
      <KeysDialog open={keysOpen} onClose={() => setKeysOpen(false)} />
    </>
  )
}

const useStageKeys = (go: (stage: string) => void): void => {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const place = /^[1-8]$/.test(event.key) ? Number(event.key) - 1 : -1
      const typing = event.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName)
      if (place < 0 || typing || event.ctrlKey || event.metaKey || event.altKey) return
      go(stageNames[place] as string)
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [go])
}
