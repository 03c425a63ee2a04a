import { createContext, useContext, useEffect, useMemo, useState } from 'react'
import { Pictures } from '../../../../engine/storage'

/** The pictures of the open session's sounds; `version` changes when more of them have arrived. */
export interface PicturesValue {
  pictures: Pictures
  version: number
}

const PicturesContext = createContext<PicturesValue | null>(null)

export const PicturesProvider = PicturesContext.Provider

/** Creates the waveform pictures of an editor; arrivals are reported at most once per frame. */
export function useNewPictures(): PicturesValue {
  const [version, setVersion] = useState(0)
  const [arrival] = useState(() => ({ pending: 0 }))
  const [pictures] = useState(
    () =>
      new Pictures(() => {
        arrival.pending ||= requestAnimationFrame(() => {
          arrival.pending = 0
          setVersion((v) => v + 1)
        })
      }),
  )
  useEffect(() => () => cancelAnimationFrame(arrival.pending), [arrival])
  return useMemo(() => ({ pictures, version }), [pictures, version])
}

/** The pictures of the editor around. */
export function usePictures(): PicturesValue {
  const value = useContext(PicturesContext)
  if (!value) throw new Error('pictures are only there inside the editor')
  return value
}
