layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec2 uv;
layout(location = 3) in float heat;
layout(location = 4) in vec3 tint;
layout(location = 5) in vec3 painted;
uniform mat4 clip;
#ifdef WIRE
out Vertex { vec3 world; vec3 normal; vec2 uv; float heat; vec3 tint; flat vec3 plain; vec3 painted; } o;
#else
out Face { vec3 world; vec3 normal; vec2 uv; float heat; vec3 tint; flat vec3 plain; vec3 painted; } o;
#endif
void main() {
    o.world = position;
    o.normal = normal;
    o.uv = uv;
    o.heat = heat;
    o.tint = tint;
    o.plain = tint;
    o.painted = painted;
    gl_Position = clip * vec4(position, 1.0);
}
