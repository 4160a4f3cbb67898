// For the checker of scripts (web/checks): what pages take from this library.
export const BufferTarget: any;
export const CanvasSource: any;
export const Mp4OutputFormat: any;
export const Output: any;
export const QUALITY_HIGH: any;
export const WebMOutputFormat: any;
export const canEncodeVideo: any;
