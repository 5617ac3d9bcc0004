/** Vite gives the address of a file that is imported with ?url. */
declare module '*?url' {
  const url: string;
  export default url;
}
