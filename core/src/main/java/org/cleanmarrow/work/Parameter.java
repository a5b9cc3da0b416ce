package org.cleanmarrow.work;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/** What a step's parameter means, its unit and range, and its default as JSON text; without a default it must be given. */
@Retention(RetentionPolicy.RUNTIME)
@Target(ElementType.RECORD_COMPONENT)
public @interface Parameter {
    String says();

    String fallback() default "";

    /** What a number counts; empty where it has no unit. */
    String unit() default "";

    /** The least that the step takes of a number; what else it refuses it says itself. */
    double least() default Double.NEGATIVE_INFINITY;

    double most() default Double.POSITIVE_INFINITY;
}
