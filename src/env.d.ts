/// <reference types="astro/client" />

/** What of the XML parser is used; it comes without types. */
declare module 'saxen' {
  type Decode = (text: string) => string;
  export class Parser {
    ns(namespaces: Record<string, string>): this;
    on(event: 'openTag', told: (name: string, attributes: () => object, decode: Decode) => void): this;
    on(event: 'closeTag', told: (name: string) => void): this;
    on(event: 'text', told: (text: string, decode: Decode) => void): this;
    on(event: 'error', told: (error: Error) => void): this;
    parse(xml: string): this;
  }
}
