// The humanoid bones of VRM 1.0 as npm @pixiv/three-vrm-core has them: node roles.mjs > roles.json
globalThis.self = globalThis;
const { VRMHumanBoneName, VRMRequiredHumanBoneName, VRMHumanBoneParentMap } = await import('@pixiv/three-vrm-core');
process.stdout.write(JSON.stringify({
  names: Object.values(VRMHumanBoneName),
  required: Object.values(VRMRequiredHumanBoneName),
  parents: VRMHumanBoneParentMap
}));
