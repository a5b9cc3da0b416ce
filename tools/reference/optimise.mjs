// Keys that are left of a GLB's first clip when three.js has taken out those that say nothing new: node optimise.mjs FILE
import { load } from './scene.mjs';
const clip = (await load(process.argv[2])).animations[0];
clip.optimize();
console.log(clip.tracks.reduce((sum, track) => sum + track.times.length, 0));
