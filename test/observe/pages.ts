/** A page as somebody's theme writes it, and what is to be observed of it; only what is named is checked against it. */
export interface HandWritten {
  readonly name: string
  readonly head?: string
  readonly attributes?: string
  readonly body: string
  /** Run in the page before it is observed. */
  readonly script?: string
  readonly locators?: Readonly<Record<string, string>>
  readonly seen: Seen
}

/** `presence position x y widthxheight` of the header, `presence "text"` of a title, and so on. */
export interface Seen {
  readonly header?: string | null
  readonly footer?: string | null
  readonly title?: string | null
  readonly sidebar?: string | null
  readonly container?: string | null
  readonly column?: string | null
  readonly byline?: string | null
  readonly leadImage?: string | null
  readonly footerTexts?: readonly string[]
  readonly comments?: boolean
  readonly headings?: readonly string[]
  readonly headline?: string | null
  readonly landmarks?: readonly string[]
  readonly covered?: readonly string[]
  readonly behindHeader?: readonly string[]
  readonly exits?: Readonly<Record<string, readonly string[]>>
  readonly sections?: readonly string[]
  readonly robots?: string | null
  readonly canonical?: string | null
  readonly direction?: string
  readonly kinds?: readonly string[]
}

const RESET = '*{box-sizing:border-box;margin:0;padding:0}body{font:16px/24px sans-serif}h1{font:32px/40px sans-serif}'
export const documentOf = ({ head = '', attributes = '', body }: HandWritten): string =>
  `<!doctype html><html ${attributes}><head><meta charset="utf-8"><title>Tarn – Quillmere</title><style>${RESET}</style>${head}</head><body>${body}</body></html>`

const words = (n: number): string => `<p style="height:${n}px">Words about the night sky, and more of them.</p>`
const LOGO = '<a href="/"><img alt="Quillmere" width="120" height="40"></a>'
const NAV = '<nav><a href="/visit">Visit</a> <a href="/journal">Journal</a></nav>'

export const PAGES: readonly HandWritten[] = [
  {
    name: 'plain landmarks',
    body: `<header style="height:80px">${LOGO}${NAV}</header><main><h1>Tarn</h1>${words(300)}</main><footer style="height:60px"><a href="/privacy">Privacy</a></footer>`,
    seen: {
      header: 'shown static 0 0 1280x80',
      footer: 'shown 0 420 1280x60',
      title: 'shown "Tarn"',
      landmarks: ['banner', 'navigation', 'main', 'contentinfo'],
      headings: ['1 shown "Tarn" in body'],
      exits: { header: ['/', '/visit', '/journal'], footer: ['/privacy'], body: [] },
      headline: null,
      sidebar: null,
      comments: false,
      covered: [],
    },
  },
  {
    name: 'no landmarks at all',
    body: `<div class="masthead" style="height:90px">${LOGO}<div><a href="/visit">Visit</a></div></div><div class="stuff"><h1>Tarn</h1>${words(200)}${words(200)}</div><div class="bottom" style="height:50px"><a href="/press">Press</a></div>`,
    seen: {
      header: 'shown static 0 0 1280x90',
      footer: 'shown 0 530 1280x50',
      title: 'shown "Tarn"',
      landmarks: [],
      exits: { header: ['/', '/visit'], footer: ['/press'] },
    },
  },
  {
    name: 'landmarks by role on plain blocks',
    body: `<div role="banner" style="height:70px">${LOGO}</div><div role="main"><div role="heading" aria-level="1">Tarn</div>${words(200)}</div><div role="contentinfo" style="height:40px">2026</div>`,
    seen: {
      header: 'shown static 0 0 1280x70',
      footer: 'shown 0 294 1280x40',
      landmarks: ['banner', 'main', 'contentinfo'],
      headings: ['1 shown "Tarn" in body'],
      title: 'shown "Tarn"',
    },
  },
  {
    name: 'a header and a footer inside an article are not the page’s',
    body: `<header style="height:60px">${LOGO}</header><main><article><header><h1>Tarn</h1></header>${words(100)}<footer>By M.</footer></article></main><footer style="height:30px">2026</footer>`,
    seen: {
      header: 'shown static 0 0 1280x60',
      footer: 'shown 0 224 1280x30',
      landmarks: ['banner', 'main', 'contentinfo'],
    },
  },
  {
    name: 'two headings 1, one in the hero and one of the theme',
    body: `<header style="height:60px">${LOGO}</header><main><h1 class="page-title">Tarn</h1><section id="hero" style="background:#123;padding:40px"><h1>Come to the tarn</h1></section></main>`,
    seen: {
      title: 'shown "Tarn"',
      headings: ['1 shown "Tarn" in body', '1 shown "Come to the tarn" in body'],
      sections: ['hero 0 100 1280x120 rgb(17, 34, 51)'],
      footer: null,
    },
  },
  {
    name: 'a title hidden with display: none',
    head: '<style>.page-title{display:none}</style>',
    body: `<main><h1 class="page-title">Tarn</h1>${words(200)}</main>`,
    seen: { title: 'hidden "Tarn"', headings: ['1 hidden "Tarn" in body'], header: null },
  },
  {
    name: 'a title hidden with the hidden attribute',
    body: `<main><h1 hidden>Tarn</h1>${words(200)}</main>`,
    seen: { title: 'hidden "Tarn"' },
  },
  {
    name: 'a title whose place is kept but not drawn',
    body: `<main><h1 style="visibility:hidden">Tarn</h1>${words(200)}</main>`,
    seen: { title: 'hidden "Tarn"' },
  },
  {
    name: 'a title clipped to nothing, for those who listen',
    head: '<style>h1{position:absolute;width:1px;height:1px;overflow:hidden;clip:rect(0 0 0 0);clip-path:inset(50%)}</style>',
    body: `<main><h1>Tarn</h1>${words(200)}</main>`,
    seen: { title: 'visually-hidden "Tarn"', headings: ['1 visually-hidden "Tarn" in body'] },
  },
  {
    name: 'a title moved out of the window',
    body: `<main><h1 style="position:absolute;left:-9999px">Tarn</h1>${words(200)}</main>`,
    seen: { title: 'visually-hidden "Tarn"' },
  },
  {
    name: 'a title that lets everything through',
    body: `<main><div style="opacity:0"><h1>Tarn</h1></div>${words(200)}</main>`,
    seen: { title: 'visually-hidden "Tarn"' },
  },
  {
    name: 'a title replaced by indenting it away',
    body: `<main><h1 style="text-indent:-9999px;overflow:hidden;height:40px;background:#def">Tarn</h1>${words(200)}</main>`,
    seen: { title: 'visually-hidden "Tarn"' },
  },
  {
    name: 'a title in the markup that a class name calls hidden and that is not',
    body: `<main><h1 class="visually-hidden sr-only hidden">Tarn</h1>${words(200)}</main>`,
    seen: { title: 'shown "Tarn"' },
  },
  {
    name: 'no title, but a headline in JSON-LD',
    head: '<script type="application/ld+json">{"@context":"https://schema.org","@graph":[{"@type":"Article","headline":"Four, and a fox"}]}</script>',
    body: `<main>${words(200)}</main>`,
    seen: { title: null, headline: 'json-ld "Four, and a fox"', kinds: ['Article'], headings: [] },
  },
  {
    name: 'a headline in microdata, and broken JSON-LD',
    head: '<script type="application/ld+json">{ not json</script>',
    body: `<main itemscope itemtype="https://schema.org/NewsArticle"><h2 itemprop="headline">A quiet year</h2>${words(200)}</main>`,
    seen: { headline: 'microdata "A quiet year"', kinds: ['NewsArticle'], title: null },
  },
  {
    name: 'a sticky header of two rows',
    head: '<style>header{position:sticky;top:0}.a{height:36px}.b{height:64px}</style>',
    body: `<header><div class="a">Tonight: clear</div><div class="b">${LOGO}${NAV}</div></header><main><h1>Tarn</h1>${words(900)}</main>`,
    seen: { header: 'shown sticky 0 0 1280x100', covered: [] },
  },
  {
    name: 'a header that sticks through what is around it',
    head: '<style>.stick{position:sticky;top:0;z-index:9}</style>',
    body: `<div class="stick"><header style="height:64px">${LOGO}</header></div><main><h1>Tarn</h1>${words(900)}</main>`,
    seen: { header: 'shown sticky 0 0 1280x64' },
  },
  {
    name: 'a fixed header over the first words',
    head: '<style>header{position:fixed;top:0;left:0;right:0;height:72px;background:rgb(255,255,255)}main{padding-top:16px}</style>',
    body: `<header>${LOGO}<span>Open tonight</span></header><main><h1>Tarn</h1>${words(300)}</main>`,
    seen: {
      header: 'shown fixed 0 0 1280x72',
      covered: ['h1 "Tarn" 40', 'p "Words about the night sky, and more of them." 16'],
      behindHeader: ['rgb(255, 255, 255)'],
    },
  },
  {
    name: 'a header element without height around a fixed bar',
    head: '<style>.bar{position:fixed;top:0;left:0;right:0;height:56px}main{padding-top:56px}</style>',
    body: `<header><div class="bar">${LOGO}</div></header><main><h1>Tarn</h1>${words(300)}</main>`,
    seen: { header: 'shown fixed 0 0 1280x56', covered: [] },
  },
  {
    name: 'a clear header laid over a hero',
    head: '<style>header{position:absolute;top:0;left:0;right:0;height:80px;color:#fff}#hero{background:rgb(20,27,51);padding:120px 24px}</style>',
    body: `<header>${LOGO}<span>Open tonight</span></header><main><section id="hero"><h1>Tarn</h1></section></main>`,
    seen: {
      header: 'shown absolute 0 0 1280x80',
      covered: [],
      behindHeader: ['rgb(20, 27, 51)'],
      sections: ['hero 0 0 1280x280 rgb(20, 27, 51)'],
    },
  },
  {
    name: 'a clear header over a picture, under a veil',
    head: '<style>header{position:absolute;top:0;left:0;right:0;height:80px;background:rgba(0,0,0,.4)}#hero{background-image:linear-gradient(#123,#456);height:300px}</style>',
    body: `<header>${LOGO}<span>Open tonight</span></header><main><section id="hero"><h2>Tarn</h2></section></main>`,
    seen: { behindHeader: ['rgba(0, 0, 0, 0.4)', 'picture'], sections: ['hero 0 0 1280x300 picture'] },
  },
  {
    name: 'a boxed container with a sidebar to the right',
    head: '<style>.wrap{width:1000px;margin:0 auto;display:flex;gap:40px}.text{flex:1}aside{width:260px;height:150px}</style>',
    body: `<header style="height:50px">${LOGO}</header><main><div class="wrap"><div class="text"><h1>Tarn</h1>${words(300)}</div><aside><a href="/latest">Latest</a></aside></div></main>`,
    seen: {
      container: '140 50 1000x340',
      column: '140 50 700x340',
      sidebar: 'shown 880 50 260x150',
      exits: { sidebar: ['/latest'], body: [] },
    },
  },
  {
    name: 'a sidebar that is no landmark, to the left',
    head: '<style>.wrap{width:900px;margin:0 auto;display:flex;flex-direction:row-reverse;gap:20px}.text{flex:1}.sidebar{width:200px;height:90px}</style>',
    body: `<main><div class="wrap"><div class="text"><h1>Tarn</h1>${words(200)}</div><div class="sidebar">Latest</div></div></main>`,
    seen: { container: '190 0 900x240', column: '410 0 680x240', sidebar: 'shown 190 0 200x90' },
  },
  {
    name: 'right to left, with the sidebar first in reading',
    attributes: 'dir="rtl" lang="ar"',
    head: '<style>.wrap{width:900px;margin:0 auto;display:flex;gap:20px}.text{flex:1}aside{width:200px;height:90px}h1{position:absolute;right:auto}</style>',
    body: `<main><div class="wrap"><aside>سماء</aside><div class="text"><h2>نجوم</h2>${words(200)}</div></div></main>`,
    seen: { direction: 'rtl', sidebar: 'shown 890 0 200x90', column: '190 0 680x224', title: null },
  },
  {
    name: 'a title inside an iframe is not this page’s',
    body: `<main><iframe srcdoc="<h1>Theirs</h1>" style="border:0;width:400px;height:200px;display:block"></iframe>${words(100)}</main>`,
    seen: { title: null, headings: [], kinds: [], sections: [] },
  },
  {
    name: 'chrome in an open shadow root, words in its slot',
    body: `<site-bar><span slot="name">Quillmere</span></site-bar><main><h1>Tarn</h1>${words(200)}</main>`,
    script: `customElements.define('site-bar', class extends HTMLElement { constructor() { super(); this.attachShadow({ mode: 'open' }).innerHTML = '<style>header{display:block;height:88px}</style><header><a href="/"><slot name="name"></slot></a><h2>Inside</h2></header>' } })`,
    seen: {
      header: 'shown static 0 0 1280x88',
      headings: ['2 shown "Inside" in header', '1 shown "Tarn" in body'],
      exits: { header: ['/'], body: [] },
      landmarks: ['banner', 'main'],
    },
  },
  {
    name: 'byline, lead picture and comments by their usual names',
    body: `<main><article><h1 class="entry-title">Tarn</h1><p class="entry-meta">By M., 4 May</p><figure class="lead" style="height:200px"><img alt="" width="300" height="200"></figure>${words(100)}</article><section id="comments" style="height:120px"><h2>Replies</h2></section></main>`,
    seen: {
      title: 'shown "Tarn"',
      byline: 'shown "By M., 4 May"',
      leadImage: 'shown 0 64 1280x200',
      comments: true,
    },
  },
  {
    name: 'kept from search engines, with another address as its own',
    head: '<meta name="robots" content="noindex, nofollow"><link rel="canonical" href="https://quillmere.example/tarn">',
    body: `<main><h1>Tarn</h1>${words(100)}</main>`,
    seen: { robots: 'noindex, nofollow', canonical: 'https://quillmere.example/tarn' },
  },
  {
    name: 'exits: what is hidden, goes nowhere or stays here is none',
    body: `<header style="height:40px"><a href="/visit">Visit</a><a href="/secret" style="display:none">Secret</a><a href="#top">Up</a></header><main><h1>Tarn</h1><p><a href="/visit">Again</a> <a href="https://notes.example/a">Notes</a> <a>No address</a> <a href="javascript:void 0">Script</a></p></main>`,
    seen: { exits: { header: ['/visit'], body: ['/visit', 'https://notes.example/a'] } },
  },
  {
    name: 'what only a transform moves stands where it is laid out',
    body: `<main><h1>Tarn</h1><figure class="lead" style="height:200px;transform:scale(1.1)"><img alt="" width="10" height="10"></figure></main>`,
    seen: { leadImage: 'shown 0 40 1280x200' },
  },
  {
    name: 'the site’s own names for its parts go before all guesses',
    locators: { header: '.real', title: '.name', sidebar: '.none-such' },
    body: `<header style="height:10px">Not this</header><div class="real" style="height:44px">${NAV}</div><main><h1>Not this</h1><h2 class="name">Tarn</h2><aside>Not this</aside></main>`,
    seen: { header: 'shown static 0 10 1280x44', title: 'shown "Tarn"', sidebar: null },
  },
  {
    name: 'two banners, of which one is shown at this width',
    head: '<style>.small{display:none}</style>',
    body: `<header class="small" style="height:40px">${LOGO}</header><header class="large" style="height:88px">${LOGO}</header><main><h1>Tarn</h1>${words(100)}</main>`,
    seen: { header: 'shown static 0 0 1280x88', landmarks: ['banner', 'banner', 'main'] },
  },
  // As people write pages who know of no landmarks, or mean something else by them.
  {
    name: 'a header element that is the page’s hero, under the bar that leads through the site',
    head: '<style>.bar{height:60px}.hero{background:#123;color:#fff;height:300px}.text{width:700px;margin:40px auto}</style>',
    body: `<nav class="bar">${LOGO}<a href="/visit">Visit</a></nav><header class="hero"><h1>Tarn</h1><p>Come and see.</p></header><div class="text">${words(200)}${words(200)}</div><footer style="height:50px">2026</footer>`,
    seen: {
      header: 'shown static 0 0 1280x60',
      title: 'shown "Tarn"',
      column: '290 400 700x400',
      footer: 'shown 0 840 1280x50',
    },
  },
  {
    name: 'a fixed bar over a hero that begins at the top',
    head: '<style>.bar{position:fixed;top:0;left:0;right:0;height:64px}.hero{background:#123;height:500px;padding-top:200px}</style>',
    body: `<nav class="bar">${LOGO}<a href="/visit">Visit</a></nav><div class="hero"><h2>Under open skies</h2>${words(50)}</div><section style="height:300px"><h2>What is on</h2>${words(100)}</section>`,
    seen: { header: 'shown fixed 0 0 1280x64', title: null, column: '0 0 1280x800' },
  },
  {
    name: 'a header and a footer inside main',
    body: `<main><nav style="height:56px">${LOGO}<a href="/visit">Visit</a></nav><section style="height:200px"><h1>Tarn</h1>${words(100)}</section><section style="height:250px"><h2>Hours</h2>${words(100)}</section><footer style="height:44px"><a href="/privacy">Privacy</a></footer></main>`,
    seen: {
      header: 'shown static 0 0 1280x56',
      footer: 'shown 0 506 1280x44',
      column: '0 56 1280x450',
      exits: { header: ['/', '/visit'], footer: ['/privacy'], body: [] },
    },
  },
  {
    name: 'a link for those who skip, and a bar for phones that is not shown here',
    head: '<style>.skip{position:absolute;left:-999px}.phone{display:none}.desk{height:70px}</style>',
    body: `<a class="skip" href="#main">Skip</a><header class="phone">${LOGO}${NAV}</header><div class="desk navbar">${LOGO}${NAV}</div><main id="main"><h1>Tarn</h1>${words(100)}</main>`,
    seen: { header: 'shown static 0 0 1280x70', title: 'shown "Tarn"' },
  },
  {
    name: 'a rail that is kept in its place, and a bar beside it',
    head: '<style>#nav{position:fixed;top:0;left:0;width:240px;height:100vh}.page{margin-left:240px}.bar{height:50px}.text{padding:24px}</style>',
    body: `<div id="nav"><ul><li><a href="/a">Aurora</a></li><li><a href="/b">Binoculars</a></li></ul></div><div class="page"><div class="bar topbar"><a href="/">Quillmere</a> <a href="/search">Search</a></div><div class="text"><h1>Tarn</h1>${words(900)}</div></div>`,
    seen: {
      header: 'shown static 240 0 1040x50',
      sidebar: 'shown 0 0 240x800',
      column: '264 50 992x988',
      exits: { header: ['/', '/search'], sidebar: ['/a', '/b'], body: [] },
    },
  },
  {
    name: 'a rail that floats beside a text that floats',
    head: '<style>.wrap{width:1000px;margin:0 auto}.text{float:right;width:700px}.sidebar{float:left;width:260px;height:500px}.foot{clear:both;height:40px}</style>',
    body: `<div class="wrap"><div class="text"><h1>Tarn</h1>${words(600)}</div><div class="sidebar"><a href="/a">Aurora and comets</a></div></div><div class="foot">2026, <a href="/press">Press</a></div>`,
    seen: { column: '440 0 700x640', sidebar: 'shown 140 0 260x500', footer: 'shown 0 640 1280x40' },
  },
  {
    name: 'a note that floats in the text is no rail',
    head: '<style>.wrap{width:800px;margin:0 auto}.note{float:right;width:200px;height:100px}</style>',
    body: `<div class="wrap"><h1>Tarn</h1><div class="note">Bring a lamp with a red light.</div>${words(400)}${words(400)}</div>`,
    seen: { sidebar: null, column: '240 0 800x840' },
  },
  {
    name: 'columns of one text are no rails',
    head: '<style>.row{display:flex;width:1000px;margin:0 auto}.row>div{flex:1}</style>',
    body: `<div class="row"><div><h2>Hours</h2>${words(300)}</div><div><h2>Prices</h2>${words(300)}</div></div>`,
    seen: { sidebar: null, column: '140 0 1000x324' },
  },
  {
    name: 'the site’s name as a heading in the bar is not the title',
    body: `<div class="topbar" style="height:60px"><h1><a href="/">Quillmere</a></h1><a href="/visit">Visit</a></div><div style="width:600px;margin:0 auto"><h2>Tarn</h2>${words(300)}</div>`,
    seen: { header: 'shown static 0 0 1280x60', title: 'shown "Tarn"', column: '340 60 600x324' },
  },
  {
    name: 'a heading of an entry in a list is not the title',
    body: `<h1>Tarn</h1><ul><li><h2 class="post-title"><a href="/a">Aurora</a></h2>${words(100)}</li><li><h2 class="post-title"><a href="/b">Comets</a></h2>${words(100)}</li></ul>`,
    seen: { title: 'shown "Tarn"' },
  },
  {
    name: 'a last line under the footer belongs to it, a button that floats does not',
    head: '<style>footer{height:120px}.copyright{height:30px}.up{position:fixed;right:10px;bottom:10px;width:40px;height:40px}</style>',
    body: `<main style="height:500px"><h1>Tarn</h1>${words(300)}</main><footer><a href="/press">Press</a></footer><div class="copyright">© 2026</div><a class="up" href="#">Up</a>`,
    seen: { footer: 'shown 0 500 1280x150' },
  },
  {
    name: 'words beside a picture deep in a footer, and those that stand alone in it',
    body: `<main style="height:500px"><h1>Tarn</h1>${words(300)}</main><footer style="height:90px"><ul id="made"><li>Made with <img src="/logo.svg" width="40" height="10" alt=""> in 2026</li></ul>Open till late<a href="/press">Press</a></footer>`,
    seen: { footerTexts: ['Made with in 2026', 'Open till late'] },
  },
  {
    name: 'a line that only says where the page is, is no header; a rail in a page that is laid out of flow',
    head: '<style>.all{position:absolute;width:100%;min-height:100%}.side{position:fixed;top:0;left:0;width:300px;height:100%}.text{margin-left:300px;padding:20px}.trail{height:40px}</style>',
    body: `<div class="all"><nav class="side"><a href="/">Quillmere</a><a href="/visit">Visit</a></nav><div class="text"><nav class="trail" aria-label="Page"><a href="/">Home</a> / <span>Tarn</span></nav><div role="main"><h1>Tarn</h1>${words(600)}</div></div></div>`,
    seen: { header: null, sidebar: 'shown 0 0 300x800', title: 'shown "Tarn"', column: '320 60 940x640' },
  },
  {
    name: 'a section that is called the text, between a rail and one as high as it that holds little',
    head: '<style>.all{display:flex}.side{position:sticky;top:0;width:300px;height:100vh}#main{flex:1}.toc{width:100px}</style>',
    body: `<div class="all"><nav class="side"><a href="/">Quillmere</a><a href="/visit">Visit</a></nav><section id="main"><h1><a href="/">Tarn</a><span class="sign"></span>Hours</h1>${words(1200)}</section><div class="toc"><nav><a href="#a">Content of it</a></nav></div></div>`,
    seen: { sidebar: 'shown 0 0 300x800', title: 'shown "Tarn Hours"', column: '300 0 880x1240' },
  },
  {
    name: 'a list of links beside the text is a rail, whatever it is called and however low',
    head: '<style>.wrap{width:1000px;margin:0 auto}.big{float:left;width:650px}.small{float:right;width:310px}li{list-style:none}</style>',
    body: `<div id="header" style="height:80px"><h1><a href="/">Quillmere</a></h1><a href="/visit">Visit</a></div><div class="wrap"><div class="big"><h1>Tarn</h1>${words(900)}</div><div class="small"><ul><li><a href="/a">Aurora</a></li><li><a href="/b">Comets</a></li><li><a href="/c">Moons</a></li></ul></div></div>`,
    seen: { header: 'shown static 0 0 1280x80', sidebar: 'shown 830 80 310x72', column: '140 80 650x940' },
  },
  {
    name: 'the footer of a card is not that of the page',
    body: `<main style="height:600px"><h1>Tarn</h1>${words(100)}<div class="card"><p>Tickets</p><div class="card-footer" style="height:40px"><a href="/buy">Buy</a></div></div></main><footer style="height:70px"><a href="/press">Press</a></footer>`,
    seen: { footer: 'shown 0 600 1280x70' },
  },
  {
    name: 'links of a menu that is closed are none',
    head: '<style>.drop{display:none}</style>',
    body: `<header style="height:80px">${LOGO}<nav><a href="/visit">Visit</a><div class="drop"><a href="/visit/groups">Groups</a></div></nav><a href="javascript:void(0)">Menu</a></header><main><h1>Tarn</h1>${words(100)}</main>`,
    seen: { exits: { header: ['/', '/visit'], body: [] } },
  },
  {
    name: 'a ground under the whole text, its heading included, is no band of its own',
    head: '<style>.rail{position:absolute;top:0;left:0;width:250px;height:900px}.ground{margin-left:250px;background:#f4f6f9;min-height:800px}</style>',
    body: `<div class="rail"><a href="/a">Aurora and comets</a></div><div class="ground"><div style="height:80px"><h1>Tarn</h1></div>${`<p style="height:160px">${'Words about the night sky, and more of them. '.repeat(8)}</p>`.repeat(5)}</div>`,
    seen: { title: 'shown "Tarn"', column: '250 0 1030x880', sidebar: 'shown 0 0 250x900' },
  },
]
