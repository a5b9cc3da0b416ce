package org.cleanmarrow.desktop.viewport;

import static org.lwjgl.opengl.CGL.CGLChoosePixelFormat;
import static org.lwjgl.opengl.CGL.CGLCreateContext;
import static org.lwjgl.opengl.CGL.CGLDestroyContext;
import static org.lwjgl.opengl.CGL.CGLDestroyPixelFormat;
import static org.lwjgl.opengl.CGL.CGLSetCurrentContext;
import static org.lwjgl.opengl.CGL.kCGLOGLPVersion_3_2_Core;
import static org.lwjgl.opengl.CGL.kCGLPFAColorSize;
import static org.lwjgl.opengl.CGL.kCGLPFAOpenGLProfile;

import java.nio.IntBuffer;
import org.lwjgl.PointerBuffer;
import org.lwjgl.opengl.GL;
import org.lwjgl.system.MemoryStack;

/** A context of Core OpenGL: macOS. Written from its reference and never run: there was no such machine. */
final class CglContext implements GlContext {
    private final long context;

    private CglContext(long context) {
        this.context = context;
    }

    static GlContext create() throws GlMissing {
        try (MemoryStack stack = MemoryStack.stackPush()) {
            // The profile named 3.2 is the newest core version that the driver has, 4.1 on all machines since 2013.
            IntBuffer wanted = stack.ints(kCGLPFAOpenGLProfile, kCGLOGLPVersion_3_2_Core, kCGLPFAColorSize, 24, 0);
            PointerBuffer format = stack.mallocPointer(1);
            if (CGLChoosePixelFormat(wanted, format, stack.mallocInt(1)) != 0 || format.get(0) == 0) {
                throw new GlMissing("Core OpenGL offers no picture format with 8 bits a colour");
            }
            PointerBuffer context = stack.mallocPointer(1);
            int failed = CGLCreateContext(format.get(0), 0, context);
            CGLDestroyPixelFormat(format.get(0));
            if (failed != 0) {
                throw new GlMissing("OpenGL 3.3 is not to be had from this driver");
            }
            if (CGLSetCurrentContext(context.get(0)) != 0) {
                CGLDestroyContext(context.get(0));
                throw new GlMissing("Core OpenGL does not start on this machine");
            }
            GL.createCapabilities();
            return new CglContext(context.get(0));
        } catch (LinkageError | IllegalStateException | NullPointerException e) {
            throw new GlMissing("OpenGL cannot be loaded (" + e.getMessage() + ")");
        }
    }

    @Override
    public void close() {
        GL.setCapabilities(null);
        CGLSetCurrentContext(0);
        CGLDestroyContext(context);
    }
}
