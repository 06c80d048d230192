import { inspect } from 'wembra'
import { openDemoSite } from './demo-site.ts'

// Trying every mend takes longer than a frame, so it is done beside the page.
postMessage(inspect(openDemoSite().resolved))
