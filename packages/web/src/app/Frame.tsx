import { Box } from '@chakra-ui/react'
import { stageNames, type TraceStart } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useEffect, useMemo, useState } from 'react'
import { Link, Outlet, useLocation, useNavigate, useParams } from 'react-router'
import { ClientProvider, useHref } from '../context/ClientContext.tsx'
import { TraceContext, useTrace } from '../context/TraceContext.tsx'
import { Instead } from '../ui/Instead.tsx'
import { useKey } from '../ui/keys.ts'
import { Page } from '../ui/Page.tsx'
import { courseQuery } from './appQueries.ts'
import { CourseBar } from './CourseBar.tsx'
import { JobsProvider } from './JobsProvider.tsx'
import { KeysDialog } from './KeysDialog.tsx'
import { TopBar } from './TopBar.tsx'

const TracePanel = lazy(() => import('./TracePanel.tsx').then(file => ({ default: file.TracePanel })))

const loading = { data: undefined, error: null, isFetching: true, refetch: () => undefined }

/** What surrounds every page of a client: top bar, course, trace panel, keys. */
export const Frame = () => {
  const clientId = Number(useParams().client)
  const query = useQuery(courseQuery(clientId))
  const { data } = query
  const [start, setStart] = useState<TraceStart | null>(null)
  const trace = useMemo(() => ({ start, open: setStart, close: () => setStart(null) }), [start])
  if (!data)
    return (
      <Box p="24px">
        <Instead of={query} />
        {query.error ? (
          <Box mt="12px">
            <Link to="/">All clients</Link>
          </Box>
        ) : null}
      </Box>
    )
  return (
    <ClientProvider value={{ ...data.client, latest: data.latest, earliest: data.earliest }}>
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
  const { start } = useTrace()
  // What draws a trace is fetched with the first.
  const [wasTraced, setWasTraced] = useState(false)
  if (start !== null && !wasTraced) setWasTraced(true)
  const navigate = useNavigate()
  const href = useHref()
  const { pathname } = useLocation()
  useKey('?', 'these keys', () => setKeysOpen(true))
  useKey('1, 2, 3, 4, 5, 6, 7, 8', 'the stages of the course', event => {
    void navigate(href(`/${stageNames[Number(event.key) - 1]}`))
  })
  useEffect(() => {
    document.title = `${course.client.name} · Culvert`
    if (pathname) window.scrollTo({ top: 0 })
  }, [course.client.name, pathname])
  return (
    <>
      {/* A trace stands beside the page where there is room for it, and over it where there is none. */}
      <Box {...(start ? { pr: { xl: '400px' }, overflowX: { xl: 'auto' } } : {})}>
        <TopBar pulledTo={course.pulledTo} onKeys={() => setKeysOpen(true)} />
        <CourseBar course={course} />
        <Suspense fallback={<Page title="&nbsp;" of={loading} />}>
          <Outlet />
        </Suspense>
      </Box>
      <Suspense fallback={null}>{wasTraced ? <TracePanel /> : null}</Suspense>
      <KeysDialog open={keysOpen} onClose={() => setKeysOpen(false)} />
    </>
  )
}
