out vec2 at;
void main() {
    at = vec2((gl_VertexID & 1) * 4 - 1, (gl_VertexID >> 1) * 4 - 1);
    gl_Position = vec4(at, 0.9999, 1.0);
}
