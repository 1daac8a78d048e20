// The types of what the vendored three.js holds, where the scripts of the pages import it from.
export * from "three";
export { OrbitControls } from "three/addons/controls/OrbitControls.js";
export { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
