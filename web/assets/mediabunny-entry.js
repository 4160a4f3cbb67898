// What clips use of mediabunny; bundled by build.sh. Its source is the npm package of this name.
export {
  BufferTarget, canEncodeVideo, CanvasSource, Mp4OutputFormat, Output, QUALITY_HIGH, WebMOutputFormat,
} from "mediabunny";
