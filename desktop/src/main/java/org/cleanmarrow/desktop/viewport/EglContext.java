package org.cleanmarrow.desktop.viewport;

import static org.lwjgl.egl.EGL10.EGL_BLUE_SIZE;
import static org.lwjgl.egl.EGL10.EGL_GREEN_SIZE;
import static org.lwjgl.egl.EGL10.EGL_NONE;
import static org.lwjgl.egl.EGL10.EGL_NO_CONTEXT;
import static org.lwjgl.egl.EGL10.EGL_NO_SURFACE;
import static org.lwjgl.egl.EGL10.EGL_PBUFFER_BIT;
import static org.lwjgl.egl.EGL10.EGL_RED_SIZE;
import static org.lwjgl.egl.EGL10.EGL_SURFACE_TYPE;
import static org.lwjgl.egl.EGL10.eglChooseConfig;
import static org.lwjgl.egl.EGL10.eglCreateContext;
import static org.lwjgl.egl.EGL10.eglDestroyContext;
import static org.lwjgl.egl.EGL10.eglInitialize;
import static org.lwjgl.egl.EGL10.eglMakeCurrent;
import static org.lwjgl.egl.EGL12.EGL_RENDERABLE_TYPE;
import static org.lwjgl.egl.EGL12.eglBindAPI;
import static org.lwjgl.egl.EGL14.EGL_OPENGL_API;
import static org.lwjgl.egl.EGL14.EGL_OPENGL_BIT;
import static org.lwjgl.egl.EGL15.EGL_CONTEXT_MAJOR_VERSION;
import static org.lwjgl.egl.EGL15.EGL_CONTEXT_MINOR_VERSION;
import static org.lwjgl.egl.EGL15.EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT;
import static org.lwjgl.egl.EGL15.EGL_CONTEXT_OPENGL_PROFILE_MASK;

import java.nio.IntBuffer;
import org.lwjgl.PointerBuffer;
import org.lwjgl.egl.EGL;
import org.lwjgl.egl.EXTDeviceEnumeration;
import org.lwjgl.egl.EXTPlatformBase;
import org.lwjgl.egl.EXTPlatformDevice;
import org.lwjgl.opengl.GL;
import org.lwjgl.system.MemoryStack;

/** A context on EGL's device platform, which needs no display: Linux. */
final class EglContext implements GlContext {
    private final long display;
    private final long context;

    private EglContext(long display, long context) {
        this.display = display;
        this.context = context;
    }

    static GlContext create() throws GlMissing {
        try (MemoryStack stack = MemoryStack.stackPush()) {
            IntBuffer count = stack.mallocInt(1);
            PointerBuffer devices = stack.mallocPointer(16);
            if (!EXTDeviceEnumeration.eglQueryDevicesEXT(devices, count) || count.get(0) == 0) {
                throw new GlMissing("EGL finds no device to draw with");
            }
            GlMissing last = null;
            for (int d = 0; d < count.get(0); d++) {
                try {
                    return onDevice(devices.get(d), stack);
                } catch (GlMissing e) {
                    last = e;
                }
            }
            throw last;
        } catch (LinkageError | IllegalStateException | NullPointerException e) {
            throw new GlMissing("libEGL cannot be loaded (" + e.getMessage() + ")");
        }
    }

    private static GlContext onDevice(long device, MemoryStack stack) throws GlMissing {
        long display = EXTPlatformBase.eglGetPlatformDisplayEXT(
                EXTPlatformDevice.EGL_PLATFORM_DEVICE_EXT, device, (IntBuffer) null);
        IntBuffer major = stack.mallocInt(1);
        IntBuffer minor = stack.mallocInt(1);
        if (display == 0 || !eglInitialize(display, major, minor)) {
            throw new GlMissing("EGL does not start on this machine's device");
        }
        EGL.createDisplayCapabilities(display, major.get(0), minor.get(0));
        if (!eglBindAPI(EGL_OPENGL_API)) {
            throw new GlMissing("EGL offers no desktop OpenGL");
        }
        IntBuffer wanted = stack.ints(
                EGL_SURFACE_TYPE,
                EGL_PBUFFER_BIT,
                EGL_RENDERABLE_TYPE,
                EGL_OPENGL_BIT,
                EGL_RED_SIZE,
                8,
                EGL_GREEN_SIZE,
                8,
                EGL_BLUE_SIZE,
                8,
                EGL_NONE);
        PointerBuffer configs = stack.mallocPointer(1);
        IntBuffer found = stack.mallocInt(1);
        if (!eglChooseConfig(display, wanted, configs, found) || found.get(0) == 0) {
            throw new GlMissing("EGL offers no picture format with 8 bits a colour");
        }
        IntBuffer version = stack.ints(
                EGL_CONTEXT_MAJOR_VERSION,
                3,
                EGL_CONTEXT_MINOR_VERSION,
                3,
                EGL_CONTEXT_OPENGL_PROFILE_MASK,
                EGL_CONTEXT_OPENGL_CORE_PROFILE_BIT,
                EGL_NONE);
        long context = eglCreateContext(display, configs.get(0), EGL_NO_CONTEXT, version);
        if (context == EGL_NO_CONTEXT || !eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, context)) {
            throw new GlMissing("OpenGL 3.3 is not to be had from this driver");
        }
        GL.createCapabilities();
        return new EglContext(display, context);
    }

    @Override
    public void close() {
        GL.setCapabilities(null);
        eglMakeCurrent(display, EGL_NO_SURFACE, EGL_NO_SURFACE, EGL_NO_CONTEXT);
        eglDestroyContext(display, context);
    }
}
