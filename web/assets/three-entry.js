// What the 3D view uses of three.js; bundled by build.sh.
export {
  Box3, BufferAttribute, BufferGeometry, CanvasTexture, ClampToEdgeWrapping, Color, CylinderGeometry, DataTexture, DepthTexture,
  DirectionalLight, DoubleSide, Float32BufferAttribute, FloatType, FrontSide, Group, HalfFloatType, HemisphereLight, Line,
  LinearFilter, LineBasicMaterial, LineSegments, Matrix4, Mesh, MeshBasicMaterial, MeshPhongMaterial, NearestFilter,
  OrthographicCamera, PerspectiveCamera, Plane, PlaneGeometry, Points, PointsMaterial, Raycaster, RGBAFormat, Scene,
  ShaderMaterial, SRGBColorSpace, Texture, UnsignedIntType, Vector2, Vector3, Vector4, WebGLRenderer, WebGLRenderTarget, DataUtils,
} from "three";
