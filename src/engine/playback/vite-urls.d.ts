declare module '*?worker&url' {
  const url: string
  export default url
}
