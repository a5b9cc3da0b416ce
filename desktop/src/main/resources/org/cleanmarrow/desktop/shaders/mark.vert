layout(location = 0) in vec3 position;
uniform mat4 clip;
uniform vec2 shift;
void main() {
    gl_Position = clip * vec4(position, 1.0);
    gl_Position.xy += shift * gl_Position.w;
    gl_PointSize = 4.0;
}
