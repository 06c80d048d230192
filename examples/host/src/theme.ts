import type { Store } from './store.js'

/** The theme's own style sheet. */
export const THEME = ({
  type,
  ground,
}: Store): string => `@font-face{font-family:'${type.family}';src:url(/fonts/text.ttf)}
*{box-sizing:border-box;margin:0;padding:0}
html{overflow-x:clip;scrollbar-width:none}
body{display:flow-root;position:relative;font:${type.base}px/${type.line} '${type.family}',sans-serif;background:${ground.color};color:${ground.ink}}
img{display:block;width:100%;height:100%;object-fit:cover}
${Object.entries(type.headings)
  .map(([level, { size, line }]) => `h${level}{font-size:${size}px;line-height:${line};font-weight:400}`)
  .join('\n')}
ul{list-style:none}
.flow{display:flow-root}
.bar{display:flex;align-items:flex-start;gap:16px;white-space:nowrap}
.bar>*{flex:none;overflow:hidden}
.bar a:not(.button){color:inherit}
.logo{display:block}.logo img{width:auto}
.menu{display:flex;gap:16px;height:24px;overflow:hidden}
.frame{display:flex;justify-content:center}
.wrap{width:100%;min-width:0}
.cols{display:flex;align-items:flex-start}
.column{display:flow-root;flex:1 1 0;min-width:0}
.rail{flex:none}
.byline,.line,.social{height:24px;overflow:hidden}
.replies{height:15rem;margin-inline:auto;overflow:hidden}
.lead{width:100%}
.picture{width:100%;max-width:none}
.block{display:flex;flex-direction:column;align-items:center;background-size:cover}
.inside{display:flow-root;flex:none;width:100%}
.columns{display:flex;align-items:flex-start}
.columns>*{min-width:0}
.button{display:block;width:fit-content;padding:12px 24px;border:0;font:inherit;line-height:24px;background:${ground.ink};color:${ground.color}}
.form .field{display:block;height:56px;line-height:24px}
.field input{display:block;height:32px;border:1px solid}
.seek{height:48px}.seek input{height:100%}
.countdown{font-size:32px;line-height:1.2;white-space:nowrap}
.card{height:100.8px;overflow:hidden;padding:12px 0}
iframe{display:block;border:0;width:100%;height:150px}
`
