package org.juratest.server.web;

import io.swagger.v3.oas.annotations.responses.ApiResponse;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.media.Schema;
import java.lang.reflect.GenericArrayType;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.lang.reflect.WildcardType;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Actor;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.Juratest;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springdoc.core.utils.SpringDocUtils;
import org.springframework.context.ApplicationContext;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.web.bind.annotation.RestController;

/**
 * The OpenAPI description, made from the code. Enum constants are named as they stand in JSON. Record components that
 * are not {@code @Nullable} are required: otherwise every field of the front end's types would be optional.
 */
@Configuration(proxyBeanMethods = false)
class OpenApiDescription {

    static {
        SpringDocUtils.getConfig()
                .replaceWithClass(Unit.class, String.class)
                .replaceWithClass(PointKey.class, String.class)
                .replaceWithClass(Actor.class, String.class);
    }

    @Bean
    OpenAPI openApi() {
        return new OpenAPI()
                .info(new Info()
                        .title("Juratest")
                        .version(Juratest.VERSION)
                        .description("Jobs, runs and records of tests on installed assets"));
    }

    @Bean
    OpenApiCustomizer requiredFields(ApplicationContext context) {
        return api -> {
            // The address it happened to be made at does not belong into a committed file.
            api.setServers(null);
            Map<String, Class<?>> records = new HashMap<>();
            context.getBeansWithAnnotation(RestController.class).values().forEach(controller -> {
                Class<?> type = org.springframework.aop.support.AopUtils.getTargetClass(controller);
                Arrays.stream(type.getDeclaredMethods()).forEach(m -> {
                    collect(m.getGenericReturnType(), records);
                    Arrays.stream(m.getGenericParameterTypes()).forEach(p -> collect(p, records));
                    ApiResponse streamed = m.getAnnotation(ApiResponse.class);
                    if (streamed != null) {
                        Arrays.stream(streamed.content())
                                .forEach(c -> collect(c.schema().implementation(), records));
                    }
                });
            });
            if (api.getComponents() == null || api.getComponents().getSchemas() == null) {
                return;
            }
            api.getComponents().getSchemas().forEach((name, schema) -> {
                Class<?> type = records.get(name);
                if (type != null) {
                    require(schema, type);
                }
            });
        };
    }

    @SuppressWarnings({"unchecked", "rawtypes"})
    private static void require(Schema<?> schema, Class<?> type) {
        List<String> required = new ArrayList<>();
        for (RecordComponent component : type.getRecordComponents()) {
            if (component.getType().isEnum()
                    && schema.getProperties() != null
                    && schema.getProperties().containsKey(component.getName())) {
                ((Schema) schema.getProperties().get(component.getName()))
                        .setEnum(Arrays.stream(component.getType().getEnumConstants())
                                .map(c -> CoreJson.constantName((Enum<?>) c))
                                .toList());
            }
            boolean nullable = component.getAnnotatedType().isAnnotationPresent(Nullable.class);
            if (!nullable
                    && schema.getProperties() != null
                    && schema.getProperties().containsKey(component.getName())) {
                required.add(component.getName());
            }
        }
        schema.setRequired(required.isEmpty() ? null : required);
    }

    private static void collect(Type type, Map<String, Class<?>> records) {
        if (type instanceof ParameterizedType parameterized) {
            Arrays.stream(parameterized.getActualTypeArguments()).forEach(t -> collect(t, records));
        } else if (type instanceof WildcardType wildcard) {
            Arrays.stream(wildcard.getUpperBounds()).forEach(t -> collect(t, records));
        } else if (type instanceof GenericArrayType array) {
            collect(array.getGenericComponentType(), records);
        } else if (type instanceof Class<?> raw
                && raw.isRecord()
                && raw.getName().startsWith("org.juratest")
                && records.putIfAbsent(raw.getSimpleName(), raw) == null) {
            Arrays.stream(raw.getRecordComponents()).forEach(c -> collect(c.getGenericType(), records));
        }
    }
}
