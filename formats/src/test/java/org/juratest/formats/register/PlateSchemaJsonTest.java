package org.juratest.formats.register;

import static org.junit.jupiter.api.Assertions.assertEquals;

import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateField;
import org.juratest.core.register.PlateField.Kind;
import org.juratest.core.register.PlateSchema;
import org.juratest.formats.json.CoreJson;
import tools.jackson.databind.node.ObjectNode;

class PlateSchemaJsonTest {

    private static final PlateSchema SCHEMA = new PlateSchema(List.of(
            new PlateField("medium", "Medium", Kind.CHOICE, null, null, null, true, List.of("vacuum", "gas")),
            new PlateField("ratedCurrent", "Rated current", Kind.NUMBER, Unit.AMPERE, 1.0, 6300.0, true, List.of()),
            new PlateField("note", "Note", Kind.TEXT, null, null, null, false, List.of()),
            new PlateField("poles", "Poles", Kind.NUMBER, Unit.ONE, 1.0, null, false, List.of())));

    @Test
    void aSchemaComesBackInItsOrder() {
        List<FieldProblem> problems = new ArrayList<>();
        assertEquals(
                SCHEMA,
                PlateSchemaJson.read(
                        CoreJson.mapper()
                                .readTree(
                                        PlateSchemaJson.write("Breaker", SCHEMA).toString()),
                        problems));
        assertEquals(List.of(), problems);
    }

    /** What we refuse in usual units, a general validator refuses by the document, and the other way round. */
    @Test
    void theDocumentSaysWhatIsKept() {
        Schema document = SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
                .getSchema(PlateSchemaJson.write("Breaker", SCHEMA).toString());
        Random random = new Random(3);
        int good = 0;
        for (int i = 0; i < 2000; i++) {
            Map<String, Quantity> ratings = new HashMap<>();
            Map<String, String> texts = new HashMap<>();
            if (random.nextInt(5) > 0) {
                ratings.put(
                        "ratedCurrent",
                        Quantity.amperes(
                                List.of(0.5, 1.0, 160.0, 6300.0, 6301.0).get(random.nextInt(5))));
            }
            if (random.nextBoolean()) {
                ratings.put("poles", new Quantity(random.nextInt(4), Unit.ONE));
            }
            if (random.nextInt(5) > 0) {
                texts.put("medium", List.of("vacuum", "gas", "air").get(random.nextInt(3)));
            }
            if (random.nextInt(3) == 0) {
                texts.put(random.nextInt(4) == 0 ? "colour" : "note", "n".repeat(random.nextInt(2) * 201));
            }
            Nameplate plate = new Nameplate(ratings, texts);
            boolean kept = SCHEMA.check(plate).isEmpty();
            good += kept ? 1 : 0;
            assertEquals(
                    kept,
                    document.validate(CoreJson.mapper().writeValueAsString(plate), InputFormat.JSON)
                            .isEmpty(),
                    plate.toString());
        }
        assertEquals(true, good > 100 && good < 1900, "the plates tried are nearly all of one kind: " + good);
    }

    @Test
    void aRuleThatNobodyKeepsIsRefusedByItsPath() {
        ObjectNode document = PlateSchemaJson.write("Breaker", SCHEMA);
        ((ObjectNode) document.at("/properties/texts/properties/note")).put("pattern", "[A-Z]+");
        ((ObjectNode) document.at("/properties/ratings/properties/poles")).put("x-unit", "furlong");
        document.putObject("if");
        List<FieldProblem> problems = new ArrayList<>();
        PlateSchemaJson.read(document, problems);
        assertEquals(
                List.of("if", "properties.ratings.properties.poles.x-unit", "properties.texts.properties.note.pattern"),
                problems.stream().map(FieldProblem::field).sorted().toList());
    }
}
