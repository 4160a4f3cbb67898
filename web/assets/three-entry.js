// What the 3D view uses of three.js; bundled by build.sh.
export {
  AmbientLight, BufferAttribute, BufferGeometry, CircleGeometry, Color, CylinderGeometry, DirectionalLight, DoubleSide,
  Float32BufferAttribute, Group, HemisphereLight, LineBasicMaterial, LineLoop, LineSegments, Mesh, MeshBasicMaterial,
  MeshPhongMaterial, PerspectiveCamera, Scene, ShaderMaterial, SRGBColorSpace, Vector3, Box3, WebGLRenderer, WireframeGeometry,
} from "three";
