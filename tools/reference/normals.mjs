// Vertex normals by area: node normals.mjs FILE, with {positions, corners}. BufferGeometry.computeVertexNormals of three.js.
import fs from 'node:fs';
import * as THREE from 'three';

const { positions, corners } = JSON.parse(fs.readFileSync(process.argv[2], 'utf8'));
const geometry = new THREE.BufferGeometry();
geometry.setAttribute('position', new THREE.BufferAttribute(new Float32Array(positions), 3));
geometry.setIndex(corners);
geometry.computeVertexNormals();
console.log(JSON.stringify(Array.from(geometry.attributes.normal.array)));
