uniform vec3 fill;
out vec4 colour;
void main() {
    float r = length(gl_PointCoord - 0.5);
    if (r > 0.5) discard;
    colour = vec4(r > 0.34 ? fill * 0.25 : fill, 1.0);
}
