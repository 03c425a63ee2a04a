import { configureStore } from '@reduxjs/toolkit'
import { jobsSlice } from './jobs-slice'
import { sessionReducer } from './session-slice'
import { transportSlice } from './transport-slice'
import { listeningSlice, navigationSlice, preferencesSlice, selectionSlice } from './view'

/**
 * Makes the store. While the program is developed, every action and state is checked to be plain data; sessions are checked by the
 * model, and not walked through with every action: they may hold many thousands of regions.
 */
export const createStore = () =>
  configureStore({
    reducer: {
      session: sessionReducer,
      selection: selectionSlice.reducer,
      navigation: navigationSlice.reducer,
      preferences: preferencesSlice.reducer,
      listening: listeningSlice.reducer,
      transport: transportSlice.reducer,
      jobs: jobsSlice.reducer,
    },
    middleware: (defaults) =>
      defaults({
        immutableCheck: false,
        serializableCheck: {
          ignoredPaths: ['session.session', 'session.base', 'session.steps', /^jobs\.exports\.\d+\.session$/],
          ignoredActions: ['session/previewed'],
          ignoredActionPaths: ['payload.session', 'payload.steps', 'payload.step'],
        },
      }),
  })

export type Store = ReturnType<typeof createStore>
export type RootState = ReturnType<Store['getState']>
export type Dispatch = Store['dispatch']
export type Thunk<T = void> = (dispatch: Dispatch, getState: () => RootState) => T
