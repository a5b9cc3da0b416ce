#ifdef WIRE
in Face { vec3 world; vec3 normal; vec2 uv; float heat; vec3 tint; flat vec3 plain; vec3 painted; noperspective vec3 edge; } v;
#else
in Face { vec3 world; vec3 normal; vec2 uv; float heat; vec3 tint; flat vec3 plain; vec3 painted; } v;
#endif
uniform sampler2D colours;
uniform int paint;
uniform int textured;
uniform vec4 base;
uniform vec3 eye;
uniform vec3 key;
uniform float fade;
out vec4 colour;

// Light is added up in squared colour: near enough to sRGB, and a software renderer pays dearly for pow.
vec3 linear(vec3 c) { return c * c; }
vec3 srgb(float r, float g, float b) { return linear(vec3(r, g, b) / 255.0); }

// Tideline: exactly zero is bare grey, so that the least influence shows against it.
vec3 tideline(float w) {
    if (w <= 0.0) return srgb(139.0, 143.0, 148.0);
    vec3 s0 = vec3(43.0, 47.0, 107.0), s1 = vec3(44.0, 110.0, 143.0), s2 = vec3(79.0, 169.0, 139.0);
    vec3 s3 = vec3(217.0, 194.0, 106.0), s4 = vec3(255.0, 243.0, 220.0);
    float t = clamp(w, 0.0, 1.0) * 4.0;
    vec3 c = t < 1.0 ? mix(s0, s1, t) : t < 2.0 ? mix(s1, s2, t - 1.0) : t < 3.0 ? mix(s2, s3, t - 2.0) : mix(s3, s4, t - 3.0);
    return linear(c / 255.0);
}

// Strain: pressed, as at rest, stretched; full colour at a half.
vec3 strain(float s) {
    vec3 pressed = vec3(31.0, 122.0, 114.0), rest = vec3(233.0, 226.0, 212.0), stretched = vec3(163.0, 52.0, 44.0);
    float t = clamp(abs(s) * 2.0, 0.0, 1.0);
    return linear(mix(rest, s < 0.0 ? pressed : stretched, t) / 255.0);
}

void main() {
    vec3 flatNormal = normalize(cross(dFdx(v.world), dFdy(v.world)));
    vec3 toEye = normalize(eye - v.world);
    if (dot(flatNormal, toEye) < 0.0) flatNormal = -flatNormal;
    vec3 n = length(v.normal) > 1e-12 ? normalize(v.normal) : flatNormal;
    bool back = dot(n, flatNormal) < -0.2;
    if (back) n = -n;
    vec3 own = base.rgb * v.painted * (textured == 1 ? linear(texture(colours, v.uv).rgb) : vec3(1.0));
    vec3 grey = srgb(139.0, 143.0, 148.0);
    // What is not moved keeps a shade of its own material, all within the greys: parts stay apart, zero stays grey.
    // Warm against cold counts as well as bright against dark, or leather on wool would be one grey.
    float shade = 0.66 + 0.8 * clamp(dot(sqrt(own), vec3(0.55, 0.35, -0.1)) + 0.05, 0.0, 1.0);
    vec3 albedo = paint == CLAY ? grey
        : paint == INFLUENCE || paint == CHANGED || paint == PRICE || paint == STRAY ? (v.heat <= 0.0 ? grey * shade : tideline(v.heat))
        : paint == STRAIN ? strain(v.heat)
        : paint == JOINTS || paint == PAIR ? linear(v.tint)
        : paint == REGIONS ? linear(v.plain)
        : own;
    float keyLight = max(dot(n, key), 0.0);
    float sky = 0.5 + 0.5 * n.y;
    float rim = 1.0 - max(dot(n, toEye), 0.0);
    rim = rim * rim * rim;
    vec3 light = vec3(1.0, 0.97, 0.92) * keyLight * 0.85 + mix(vec3(0.20, 0.18, 0.17), vec3(0.42, 0.46, 0.52), sky);
    if ((paint == INFLUENCE || paint == CHANGED || paint == PRICE || paint == STRAY) && v.heat > 0.0 || paint == JOINTS || paint == REGIONS || paint == PAIR || paint == STRAIN) light = mix(light, vec3(0.95), 0.45);
    vec3 c = albedo * light + vec3(0.55, 0.60, 0.66) * rim * 0.12;
    if (paint == FLAT) c = own;
    if (paint == NORMALS) c = linear(0.5 + 0.5 * n);
    if (back) {
        // The inside of a surface is darker and hatched, so that a turned-over face is seen at once.
        bool hatched = mod(gl_FragCoord.x + gl_FragCoord.y, 7.0) < 2.0;
        c *= paint == COLOURS || !hatched ? 0.55 : 0.22;
    }
    c = sqrt(clamp(c, 0.0, 1.0));
#ifdef WIRE
    float d = min(v.edge.x, min(v.edge.y, v.edge.z));
    float dense = clamp(max(v.edge.x, max(v.edge.y, v.edge.z)) / 10.0, 0.15, 1.0);
    c = mix(c, vec3(0.10, 0.11, 0.13), (1.0 - smoothstep(0.35, 1.25, d)) * 0.8 * dense);
#endif
    // A ghost is seen through, least where it is seen edge on.
    if (fade < 1.0) c = mix(c, vec3(0.56, 0.86, 0.80), 0.8);
    colour = vec4(c, fade < 1.0 ? fade * (0.25 + 0.75 * (1.0 - max(dot(n, toEye), 0.0))) : 1.0);
}
