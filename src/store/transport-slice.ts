import { createSlice, type PayloadAction } from '@reduxjs/toolkit'

/** A message that stays on the screen until it is dismissed. */
export interface Notice {
  id: string
  text: string
}

/** Playing or not, and what has to be said about sound and storage. */
export const transportSlice = createSlice({
  name: 'transport',
  initialState: { playing: false, notices: [] as Notice[] },
  reducers: {
    playingChanged: (state, action: PayloadAction<boolean>) => void (state.playing = action.payload),
    noticed: (state, action: PayloadAction<Notice>) => {
      state.notices = [...state.notices.filter((n) => n.id !== action.payload.id), action.payload]
    },
    noticeDropped: (state, action: PayloadAction<string>) => {
      if (state.notices.some((n) => n.id === action.payload))
        state.notices = state.notices.filter((n) => n.id !== action.payload)
    },
  },
})

export const { playingChanged, noticed, noticeDropped } = transportSlice.actions
