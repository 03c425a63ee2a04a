import { configureStore } from '@reduxjs/toolkit'
import { jobsSlice } from './jobs-slice'
import { sessionReducer } from './session-slice'
import { transportSlice } from './transport-slice'
import { viewSlice } from './view-slice'

/** Makes the store. Checks that walk the whole state are off: a session may hold many thousands of regions. */
export const createStore = () =>
  configureStore({
    reducer: {
      session: sessionReducer,
      view: viewSlice.reducer,
      transport: transportSlice.reducer,
      jobs: jobsSlice.reducer,
    },
    middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }),
  })

export type Store = ReturnType<typeof createStore>
export type RootState = ReturnType<Store['getState']>
export type Dispatch = Store['dispatch']
export type Thunk<T = void> = (dispatch: Dispatch, getState: () => RootState) => T
