import { Box } from '@chakra-ui/react'
import { stageNames, type TraceStart } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useEffect, useMemo, useState } from 'react'
import { Link, Outlet, useLocation, useNavigate, useParams } from 'react-router'
import { type About, AboutContext, useAbout } from '../context/AboutContext.tsx'
import { ClientProvider, useHref } from '../context/ClientContext.tsx'
import { sessionQuery } from '../context/sessionQuery.ts'
import { TraceContext, useTrace } from '../context/TraceContext.tsx'
import { Instead } from '../ui/Instead.tsx'
import { useKey } from '../ui/keys.ts'
import { Page } from '../ui/Page.tsx'
import { courseQuery } from './appQueries.ts'
import { CourseBar } from './CourseBar.tsx'
import { JobsProvider } from './JobsProvider.tsx'
import { KeysDialog } from './KeysDialog.tsx'
import { TopBar } from './TopBar.tsx'

const AboutPanel = lazy(() => import('../notes/AboutPanel.tsx').then(file => ({ default: file.AboutPanel })))
const GuestPage = lazy(() => import('../notes/GuestPage.tsx').then(file => ({ default: file.GuestPage })))
const TracePanel = lazy(() => import('./TracePanel.tsx').then(file => ({ default: file.TracePanel })))

const loading = { data: undefined, error: null, isFetching: true, refetch: () => undefined }

/** What surrounds every page of a client: top bar, course, trace panel, keys. */
export const Frame = () => {
  const clientId = Number(useParams().client)
  const { data: session } = useQuery(sessionQuery)
  const me = session?.clients.find(one => one.clientId === clientId)
  // The client's own person sees what they are asked, and none of the books.
  if (me?.role === 'guest')
    return (
      <Suspense fallback={null}>
        <GuestPage client={me} />
      </Suspense>
    )
  return <Books clientId={clientId} />
}

const Books = ({ clientId }: { readonly clientId: number }) => {
  const query = useQuery(courseQuery(clientId))
  const { data } = query
  const [start, setStart] = useState<TraceStart | null>(null)
  const [about, setAbout] = useState<About | null>(null)
  // There is one place beside the page: what is opened last stands in it.
  const sides = useMemo(() => {
    const show = (side: { start?: TraceStart; about?: About }): void => {
      setStart(side.start ?? null)
      setAbout(side.about ?? null)
    }
    const close = () => show({})
    return {
      trace: { start, open: (next: TraceStart) => show({ start: next }), close },
      about: { about, open: (next: About) => show({ about: next }), close },
    }
  }, [start, about])
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
        <TraceContext.Provider value={sides.trace}>
          <AboutContext.Provider value={sides.about}>
            <FramedPage course={data} />
          </AboutContext.Provider>
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
  const { about } = useAbout()
  const [wasAsked, setWasAsked] = useState(false)
  if (about !== null && !wasAsked) setWasAsked(true)
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
      <Box {...(start || about ? { pr: { xl: '400px' }, overflowX: { xl: 'auto' } } : {})}>
        <TopBar pulledTo={course.pulledTo} asked={course.asked} onKeys={() => setKeysOpen(true)} />
        <CourseBar course={course} />
        <Suspense fallback={<Page title="&nbsp;" of={loading} />}>
          <Outlet />
        </Suspense>
      </Box>
      <Suspense fallback={null}>{wasTraced ? <TracePanel /> : null}</Suspense>
      <Suspense fallback={null}>{wasAsked ? <AboutPanel /> : null}</Suspense>
      <KeysDialog open={keysOpen} onClose={() => setKeysOpen(false)} />
    </>
  )
}
