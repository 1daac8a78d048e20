// What the vendored scripts put on the page.
declare const htmx: { process(element: Element): void };
declare const Idiomorph: { morph(old: Element, text: string, how: object): void };
