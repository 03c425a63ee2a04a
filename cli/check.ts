import { migrated } from '../src/core/model/check/open'
import { breachLine, checkSession, MOST_BREACHES } from '../src/core/model/check/rules'
import { shownText } from '../src/core/model/check/shown'
import { InputError } from './failure'
import { asInputError, checkSource, openSessionFile, sessionJson } from './session-file'

/** The faults of the audio of a session that keeps the rules, at most `MOST_BREACHES`, each a line. */
async function audioFaults(file: string): Promise<string[]> {
  const opened = await openSessionFile(file)
  try {
    const faults: string[] = []
    for (const source of Object.values(opened.session.sources)) {
      if (faults.length === MOST_BREACHES) break
      try {
        await checkSource('audio', source, await opened.audio(source.sha256))
      } catch (error) {
        if (!(error instanceof InputError)) throw error
        faults.push(error.message)
      }
    }
    return faults
  } finally {
    await opened.close()
  }
}

/** The session in the newest version, as it is opened. Throws `InputError` for what is no session, or a newer one. */
function asNewest(file: string, json: unknown): unknown {
  try {
    return migrated(json)
  } catch (error) {
    throw asInputError(file, error)
  }
}

/** `oaken check`: what breaks in a session, first its rules and when these are kept its audio; a line each. */
export async function check(file: string): Promise<string[]> {
  let json: unknown
  try {
    json = JSON.parse(await sessionJson(file))
  } catch (error) {
    throw error instanceof SyntaxError
      ? new InputError(`${file}: is not valid JSON: ${shownText(error.message, 120)}`)
      : error
  }
  const breaches = checkSession(asNewest(file, json)).map(breachLine)
  return breaches.length ? breaches : audioFaults(file)
}
