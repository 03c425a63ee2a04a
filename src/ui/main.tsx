import { setNonce } from 'get-nonce'
import { createRoot } from 'react-dom/client'
import { Provider } from 'react-redux'
import { createBrowserRouter, Navigate, RouterProvider } from 'react-router'
import { watchInteraction } from '../engine/worker'
import { loadAhead } from '../engine/worker'
import { sweepExports } from '../engine/export'
import { startAutosave } from '../store/opening/autosave'
import { getPlayer, startPlayback, setPlayerClass } from '../store/playback/playback'
import { guardJobs } from '../store/jobs'
import { startKeepingPlaces } from '../store/opening/kept-places'
import { startAnsweringTabs } from '../store/opening/other-tabs'
import { loadPresets } from '../store/actions/presets'
import { startPreferences } from '../store/preferences'
import { startRiding } from '../store/actions/riding'
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
const whenSaved = startAutosave(store)
startPlayback(store)
void loadPresets().catch(() => undefined)
startRiding(store)
startPreferences(store)
startKeepingPlaces(store)
startFrames(store.subscribe, () => store.getState().transport.playing)
startGround(store)
readLayout()
startAnsweringTabs(store, whenSaved)
guardJobs(store)
watchInteraction(window)
void sweepExports().catch(() => undefined)
// Once what is seen first is there.
setTimeout(() => void loadAhead(), LOAD_AHEAD_MS)

// For scripts that check what is heard: the player, and when everything is saved. Only where the address asks
// for it.
if (new URLSearchParams(window.location.search).has('test')) {
  const { TestPlayer } = await import('../engine/playback/test-player')
  setPlayerClass(TestPlayer)
  const { renderTime } = await import('../engine/export/render-time')
  Object.assign(window, {
    oakenThread: { getPlayer, whenSaved, getState: store.getState, renderTime, loadAhead },
  })
}

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
            lazy: { Component: async () => (await import('./sessions/sessions-page')).SessionsPage },
          },
          {
            path: '/session/:id',
            lazy: { Component: async () => (await import('./editor/editor-page')).EditorPage },
          },
          {
            path: '/session/:id/export',
            lazy: { Component: async () => (await import('./export/export-page')).ExportPage },
          },
          {
            path: '/session/:id/report',
            lazy: { Component: async () => (await import('./report/report-page')).ReportPage },
          },
          // The address that the page had before.
          { path: '/session/:id/deliver', element: <Navigate to="../export" relative="path" replace /> },
          { path: '/help', lazy: { Component: async () => (await import('./help/help-page')).HelpPage } },
          {
            path: '/licences',
            lazy: { Component: async () => (await import('./help/licences-page')).LicencesPage },
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
