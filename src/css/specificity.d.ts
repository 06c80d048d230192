declare module '@bramus/specificity' {
  /** Specificity of selectors by Selectors 4. */
  const Specificity: {
    readonly calculate: (
      selector: string,
    ) => readonly { readonly value: { readonly a: number; readonly b: number; readonly c: number } }[]
  }
  export default Specificity
}
