// What the page knows of its elements and a checker can't: which kind a selector finds, where events come from.

interface EventTarget {
  closest(selector: string): any;
  matches(selector: string): boolean;
  dataset: DOMStringMap;
  value: string;
  checked: boolean;
}

interface Element {
  dataset: DOMStringMap;
  disabled: boolean;
  hidden: boolean;
  title: string;
  value: string;
  content: string;
  files: FileList;
  open: boolean;
  style: CSSStyleDeclaration;
  click(): void;
  focus(options?: FocusOptions): void;
}

interface HTMLElement {
  checked: boolean;
}

interface Event {
  key: string;
  code: string;
  repeat: boolean;
  ctrlKey: boolean;
  metaKey: boolean;
  shiftKey: boolean;
  altKey: boolean;
  clientX: number;
  clientY: number;
  deltaY: number;
  pointerId: number;
  pointerType: string;
  buttons: number;
  dataTransfer: DataTransfer;
  clipboardData: DataTransfer;
  data: string;
}
