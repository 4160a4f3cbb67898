// What a test reads USD files by: three's own loader, and a summary of what it finds. It is
// bundled by build.sh and not part of the program.
import { Box3 } from "three";
import { USDLoader } from "three/addons/loaders/USDLoader.js";

globalThis.summaryOfUSD = (data) => {
  const found = { meshes: [], size: [] };
  const group = new USDLoader().parse(data);
  group.updateMatrixWorld(true);
  group.traverse((o) => {
    if (o.isMesh) {
      const triangles = (o.geometry.index ?? o.geometry.attributes.position).count / 3;
      const materials = [o.material].flat();
      found.meshes.push({ name: o.name, parent: o.parent?.name ?? "", triangles, colors: materials.map((m) => m.color.getHexString()) });
    }
  });
  const box = new Box3().setFromObject(group);
  found.size = box.max.sub(box.min).toArray();
  return found;
};
