import { randomBytes } from 'node:crypto'
import fs from 'node:fs/promises'
import path from 'node:path'
import express, { type Express, type Response } from 'express'
import helmet from 'helmet'

const nonceOf = (response: Response) => String(response.locals.nonce)

/**
 * The web server: the build in `root`, with the headers that shared memory needs (cross-origin isolation) and a content security
 * policy that allows only what is served here. Every other path gets the page, which has the routes.
 */
export function createApp(root: string): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use((_request, response, next) => {
    response.locals.nonce = randomBytes(16).toString('base64')
    next()
  })
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
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
  app.use(
    express.static(root, {
      index: false,
      setHeaders: (response, file) =>
        response.setHeader(
          'Cache-Control',
          file.includes(`${path.sep}assets${path.sep}`) ? 'public, max-age=31536000, immutable' : 'no-cache',
        ),
    }),
  )
  app.get(
    /^\/(assets|sample)\//,
    (_request, response) => void response.status(404).type('text').send('Not found'),
  )
  app.get(/.*/, async (_request, response) => {
    const page = await fs.readFile(path.join(root, 'index.html'), 'utf8')
    response.setHeader('Cache-Control', 'no-store')
    response.type('html').send(page.replaceAll('CSP_NONCE', nonceOf(response)))
  })
  return app
}
