#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec3 normal;
layout(location = 2) in vec2 uv;
layout(location = 3) in float heat;
uniform mat4 clip;
out Vertex { vec3 world; vec3 normal; vec2 uv; float heat; } o;
void main() {
    o.world = position;
    o.normal = normal;
    o.uv = uv;
    o.heat = heat;
    gl_Position = clip * vec4(position, 1.0);
}
