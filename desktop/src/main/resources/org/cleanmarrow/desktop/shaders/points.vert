layout(location = 0) in vec3 position;
uniform mat4 clip;
uniform float size;
void main() {
    gl_Position = clip * vec4(position, 1.0);
    gl_PointSize = clamp(size / gl_Position.w, 2.0, 9.0);
    gl_Position.z -= 0.0008 * gl_Position.w;
}
