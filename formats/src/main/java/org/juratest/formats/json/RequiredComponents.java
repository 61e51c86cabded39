package org.juratest.formats.json;

import java.lang.invoke.MethodHandle;
import java.lang.invoke.MethodHandles;
import java.lang.reflect.Method;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JsonParser;
import tools.jackson.databind.BeanDescription;
import tools.jackson.databind.DeserializationConfig;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.ValueDeserializer;
import tools.jackson.databind.deser.ValueDeserializerModifier;
import tools.jackson.databind.deser.std.DelegatingDeserializer;
import tools.jackson.databind.exc.MismatchedInputException;

/** Holds our records to their annotations at the border: a component that is not {@code @Nullable} must be given. */
final class RequiredComponents extends ValueDeserializerModifier {

    private static final long serialVersionUID = 1;

    @Override
    public ValueDeserializer<?> modifyDeserializer(
            DeserializationConfig config, BeanDescription.Supplier bean, ValueDeserializer<?> deserializer) {
        Class<?> type = bean.getBeanClass();
        // Types written as text have readers of their own, which handle no class by name and leave nothing out.
        boolean ours =
                type.isRecord() && type.getName().startsWith("org.juratest.") && deserializer.handledType() != null;
        return ours ? new Checking(deserializer, components(type)) : deserializer;
    }

    private record Component(String name, MethodHandle read) {}

    private static List<Component> components(Class<?> type) {
        List<Component> required = new ArrayList<>();
        for (RecordComponent component : type.getRecordComponents()) {
            if (!component.getType().isPrimitive()
                    && !component.getAnnotatedType().isAnnotationPresent(Nullable.class)) {
                try {
                    Method accessor = component.getAccessor();
                    accessor.setAccessible(true);
                    required.add(new Component(
                            component.getName(), MethodHandles.lookup().unreflect(accessor)));
                } catch (IllegalAccessException e) {
                    throw new IllegalStateException("a record of ours that cannot be read: " + type, e);
                }
            }
        }
        return List.copyOf(required);
    }

    private static final class Checking extends DelegatingDeserializer {

        private final transient List<Component> required;

        Checking(ValueDeserializer<?> delegate, List<Component> required) {
            super(delegate);
            this.required = required;
        }

        @Override
        protected ValueDeserializer<?> newDelegatingInstance(ValueDeserializer<?> delegate) {
            return new Checking(delegate, required);
        }

        @Override
        public Object deserialize(JsonParser in, DeserializationContext context) {
            Object value = super.deserialize(in, context);
            for (Component component : required) {
                if (missing(component, value)) {
                    MismatchedInputException e = MismatchedInputException.from(in, value.getClass(), "is missing");
                    e.prependPath(value, component.name);
                    throw e;
                }
            }
            return value;
        }

        private static boolean missing(Component component, Object value) {
            try {
                return component.read.invoke(value) == null;
            } catch (RuntimeException | Error e) {
                throw e;
            } catch (Throwable e) {
                throw new IllegalStateException(e);
            }
        }
    }
}
