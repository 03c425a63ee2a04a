import { randomBytes } from 'node:crypto'
import fs from 'node:fs/promises'
import path from 'node:path'
import { STATUS_CODES, type ServerResponse } from 'node:http'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import staticGzip from 'express-static-gzip'
import helmet from 'helmet'
import { dropOff, type DropOffRules } from './drop-off'

/** What a page may ask the browser for: faders by MIDI, and which device plays; nothing else. */
const permissions = [
  'midi=(self)',
  'speaker-selection=(self)',
  'cross-origin-isolated=(self)',
  ...[
    'accelerometer',
    'camera',
    'display-capture',
    'encrypted-media',
    'geolocation',
    'gyroscope',
    'hid',
    'magnetometer',
    'microphone',
    'payment',
    'publickey-credentials-get',
    'screen-wake-lock',
    'serial',
    'usb',
    'xr-spatial-tracking',
  ].map((feature) => `${feature}=()`),
].join(', ')

/** A path decoded, without dots and doubled slashes; one that cannot be decoded as it is. */
function plainPath(asked: string): string {
  try {
    return path.posix.normalize(decodeURIComponent(asked))
  } catch {
    return asked
  }
}

const nonceOf = (response: Response) => String(response.locals.nonce)

/**
 * The web server: the build in `root`, with the headers that shared memory needs (cross-origin isolation) and
 * a content security policy that allows only what is served here. Every other path gets the page, which has
 * the routes. With rules for it, finished files are received under `/drop-off`.
 */
export function createApp(root: string, received: DropOffRules | null = null): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use((_request, response, next) => {
    response.locals.nonce = randomBytes(16).toString('base64')
    next()
  })
  app.use((_request, response, next) => {
    response.setHeader('Permissions-Policy', permissions)
    next()
  })
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          // The kernels of the renderer are WebAssembly.
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'"],
          styleSrc: ["'self'", (_request, response) => `'nonce-${nonceOf(response as Response)}'`],
          fontSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          manifestSrc: ["'self'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
          objectSrc: ["'none'"],
        },
      },
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      crossOriginOpenerPolicy: { policy: 'same-origin' },
      crossOriginResourcePolicy: { policy: 'same-origin' },
      // Served on this machine without encryption.
      strictTransportSecurity: false,
      referrerPolicy: { policy: 'no-referrer' },
    }),
  )
  if (received) app.use('/drop-off', dropOff(received))
  // Where nothing is received a page learns so, in place of getting itself.
  else app.use('/drop-off', (_request, response) => void response.json(null))
  app.use((request, response, next) => {
    // However it is written: the page as it lies there has no nonce.
    if (plainPath(request.path) === '/index.html') return response.redirect(308, '/')
    next()
  })
  // The page itself is never served as it lies there: it needs its nonce.
  const plain = {
    index: false,
    setHeaders: (response: ServerResponse, file: string) =>
      response.setHeader(
        'Cache-Control',
        file.includes(`${path.sep}assets${path.sep}`) ? 'public, max-age=31536000, immutable' : 'no-cache',
      ),
  } as const
  const asItIs = express.static(root, plain)
  const compressed = staticGzip(root, {
    enableBrotli: true,
    orderPreference: ['br', 'gz'],
    index: false,
    serveStatic: plain,
  })
  // A range counts the bytes of the file itself.
  app.use((request, response, next) => {
    const send = request.headers.range === undefined ? compressed : asItIs
    return send(request, response, next)
  })
  app.get(
    /^\/(assets|sample)\//,
    (_request, response) => void response.status(404).type('text').send('Not found'),
  )
  app.get(/.*/, async (_request, response) => {
    const page = await fs.readFile(path.join(root, 'index.html'), 'utf8')
    response.setHeader('Cache-Control', 'no-store')
    response.type('html').send(page.replaceAll('CSP_NONCE', nonceOf(response)))
  })
  app.use(
    (
      error: { status?: number; statusCode?: number },
      _request: Request,
      response: Response,
      next: NextFunction,
    ) => {
      if (response.headersSent) return next(error)
      const status = error.status ?? error.statusCode ?? 500
      // Nothing of the error itself: it may name paths of this machine.
      response
        .status(status)
        .type('text')
        .send(STATUS_CODES[status] ?? 'The server failed')
    },
  )
  return app
}
