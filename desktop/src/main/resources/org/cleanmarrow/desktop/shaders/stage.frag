in vec2 at;
uniform mat4 back;
uniform mat4 clip;
uniform float cell;
uniform float reach;
uniform float flip;
uniform float dim;
out vec4 colour;
float line(vec2 p, float width) {
    vec2 f = fwidth(p);
    vec2 g = abs(fract(p - 0.5) - 0.5) / max(f, vec2(1e-6));
    return (1.0 - clamp(min(g.x, g.y) - width, 0.0, 1.0)) * (1.0 - clamp(max(f.x, f.y) * 2.2, 0.0, 1.0));
}
void main() {
    float up = at.y * flip * 0.5 + 0.5;
    vec3 c = mix(vec3(43.0, 48.0, 54.0), vec3(74.0, 81.0, 88.0), smoothstep(0.0, 1.0, up)) / 255.0;
    vec4 far = back * vec4(at, 1.0, 1.0);
    vec4 near = back * vec4(at, -1.0, 1.0);
    vec3 eye = near.xyz / near.w;
    vec3 d = normalize(far.xyz / far.w - eye);
    float depth = 0.99999;
    float t = -eye.y / d.y;
    if (t > 0.0 && t < reach * 80.0) {
        vec3 p = eye + d * t;
        float fade = exp(-length(p.xz) / (reach * 1.4));
        float fine = line(p.xz / cell, 0.0) * 0.16;
        float coarse = line(p.xz / (cell * 5.0), 0.2) * 0.30;
        float shade = 1.0 - 0.30 * exp(-dot(p.xz, p.xz) / (0.05 * reach * reach * 0.5));
        c *= mix(1.0, shade, 0.7);
        c += vec3(0.55, 0.58, 0.60) * max(fine, coarse) * fade;
    }
    colour = vec4(c * dim, 1.0);
    gl_FragDepth = depth;
}
