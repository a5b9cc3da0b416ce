out vec4 colour;
void main() {
    float r = length(gl_PointCoord - 0.5);
    if (r > 0.5) discard;
    colour = r > 0.34 ? vec4(0.25, 0.06, 0.05, 1.0) : vec4(1.0, 0.42, 0.36, 1.0);
}
