import { observe } from './index.js'

// For consoles, bookmarks and test browsers: `wembraObserve()` gives the observation.
Object.assign(globalThis, { wembraObserve: observe })
