import { setNonce } from 'get-nonce'
import { createRoot } from 'react-dom/client'
import { Provider } from 'react-redux'
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router'
import { loadAhead, watchInteraction } from '../engine/worker'
import { guardJobs } from '../store/jobs'
import { startPreferences } from '../store/view/stored-preferences'
import { createStore } from '../store/store'
import './look/look.css'
import { startGround } from './look/ground'
import { facesLoaded } from './look/writing'
import { startFrames } from './parts/rendering/frames'
import { readLayout } from './parts/commands/key-words'
import { ErrorPage } from './parts/opening/error-page'
import { NotFound } from './parts/opening/not-found'
import { PageLoads } from './parts/opening/page-loads'
import { PageWithJobs } from './parts/messages/running-jobs'
import { Toasts } from './parts/messages/toasts'
import { WhyNotBubble } from './parts/messages/why-not-bubble'

/** How long after the start the rest of the program is loaded, in milliseconds. */
const LOAD_AHEAD_MS = 2000

// Styles that dialogs add at run time carry the page's nonce.
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce
if (nonce) setNonce(nonce)

const store = createStore()
startPreferences(store)
startFrames(store.subscribe, () => store.getState().transport.playing)
startGround(store)
readLayout()
guardJobs(store)
watchInteraction(window)
// Once what is seen first is there.
setTimeout(() => void loadAhead(), LOAD_AHEAD_MS)

/** Loads and starts what pages of a session need; once. */
const work = async () => (await import('../store/start-work')).startWork(store)

// For scripts that check what is heard: the player, and when everything is saved. Only where the address asks
// for it.
if (new URLSearchParams(window.location.search).has('test')) {
  const { TestPlayer } = await import('../engine/playback/test-player')
  const { getPlayer, setPlayerClass } = await import('../store/playback/playback')
  setPlayerClass(TestPlayer)
  const whenSaved = await work()
  const { renderTime } = await import('../engine/export/render-time')
  Object.assign(window, {
    oakenThread: { getPlayer, whenSaved, getState: store.getState, renderTime, loadAhead },
  })
}

/** A page of a session, once what it needs has been started. */
const afterWork = async <T,>(page: Promise<T>): Promise<T> => (await Promise.all([page, work()]))[0]

const router = createBrowserRouter([
  {
    errorElement: <ErrorPage />,
    HydrateFallback: PageLoads,
    children: [
      {
        element: <PageWithJobs />,
        children: [
          {
            path: '/',
            lazy: async () => ({ Component: (await import('./sessions/sessions-page')).SessionsPage }),
          },
          {
            path: '/session/:id',
            lazy: async () => ({ Component: (await afterWork(import('./editor/editor-page'))).EditorPage }),
          },
          {
            path: '/session/:id/export',
            lazy: async () => ({ Component: (await afterWork(import('./export/export-page'))).ExportPage }),
          },
          {
            path: '/session/:id/report',
            lazy: async () => ({ Component: (await afterWork(import('./report/report-page'))).ReportPage }),
          },
          // The address that the page had before.
          { path: '/session/:id/deliver', element: <Navigate to="../export" relative="path" replace /> },
          { path: '/help', lazy: async () => ({ Component: (await import('./help/help-page')).HelpPage }) },
          {
            path: '/licences',
            lazy: async () => ({ Component: (await import('./help/licences-page')).LicencesPage }),
          },
          { path: '*', element: <NotFound what="This page does not exist." /> },
        ],
      },
    ],
  },
])

void facesLoaded().then(() =>
  createRoot(document.getElementById('root')!).render(
    <Provider store={store}>
      <RouterProvider router={router} />
      <Toasts />
      <WhyNotBubble />
    </Provider>,
  ),
)
