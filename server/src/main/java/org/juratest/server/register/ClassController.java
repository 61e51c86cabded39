package org.juratest.server.register;

import java.security.Principal;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Unit;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.family.Families;
import org.juratest.server.register.Acts.ActView;
import org.juratest.server.web.PreconditionException;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Classes of assets and own fields: supervisors make them, everybody reads them. */
@RestController
@RequestMapping("/api")
class ClassController {

    private final AssetClasses classes;
    private final ExtraFields extraFields;
    private final Acts acts;

    ClassController(AssetClasses classes, ExtraFields extraFields, Acts acts) {
        this.classes = classes;
        this.extraFields = extraFields;
        this.acts = acts;
    }

    /** What classes can be made of. */
    record ClassChoices(List<AssetClasses.ClassView> classes, List<String> families, List<UnitChoice> units) {}

    /** A unit with what it measures. */
    record UnitChoice(String code, String symbol, String dimension) {}

    /** How many values hang on a field. */
    record FieldUse(long values) {}

    @GetMapping("/asset-classes")
    ClassChoices all() {
        return new ClassChoices(
                classes.all(),
                Families.ALL,
                Unit.all().stream()
                        .map(u -> new UnitChoice(u.code(), u.symbol(), u.dimension()))
                        .toList());
    }

    /** A class as a document with the JSON Schema of its plates. */
    @GetMapping(value = "/asset-classes/{code}/document", produces = MediaType.APPLICATION_JSON_VALUE)
    byte[] document(@PathVariable String code) {
        return CoreJson.mapper().writerWithDefaultPrettyPrinter().writeValueAsBytes(classes.document(code));
    }

    @PostMapping("/asset-classes")
    @ResponseStatus(HttpStatus.CREATED)
    ActView add(@RequestBody AssetClasses.ClassForm form, Principal person) {
        return acts.one(classes.add(form, person.getName()));
    }

    /** Adds a class from a document. */
    @PostMapping("/asset-classes/documents")
    @ResponseStatus(HttpStatus.CREATED)
    ActView take(@RequestBody byte[] document, Principal person) {
        return acts.one(classes.add(AssetClasses.form(AssetClasses.read(document)), person.getName()));
    }

    @PutMapping("/asset-classes/{code}")
    ActView change(
            @PathVariable String code,
            @RequestBody AssetClasses.ClassForm form,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal person) {
        return acts.one(classes.change(code, form, PreconditionException.expected(ifMatch), person.getName()));
    }

    @DeleteMapping("/asset-classes/{code}")
    ActView remove(@PathVariable String code, Principal person) {
        return acts.one(classes.remove(code, person.getName()));
    }

    @PostMapping("/extra-fields")
    @ResponseStatus(HttpStatus.CREATED)
    ActView addField(@RequestBody ExtraFields.ExtraForm form, Principal person) {
        return acts.one(extraFields.add(form, person.getName()));
    }

    @GetMapping("/extra-fields/{id}/use")
    FieldUse use(@PathVariable long id) {
        return new FieldUse(extraFields.used(id));
    }

    @DeleteMapping("/extra-fields/{id}")
    ActView removeField(@PathVariable long id, Principal person) {
        return acts.one(extraFields.remove(id, person.getName()));
    }
}
