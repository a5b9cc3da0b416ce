uniform vec4 fill;
uniform int hatched;
out vec4 colour;
void main() {
    // One line of pixels in ten: what is below is read as before.
    if (hatched == 1 && mod(gl_FragCoord.x + gl_FragCoord.y, 10.0) >= 1.0) discard;
    colour = fill;
}
