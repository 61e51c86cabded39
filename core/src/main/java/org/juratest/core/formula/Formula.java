package org.juratest.core.formula;

import com.ezylang.evalex.BaseException;
import com.ezylang.evalex.Expression;
import com.ezylang.evalex.config.ExpressionConfiguration;
import com.ezylang.evalex.config.MapBasedFunctionDictionary;
import com.ezylang.evalex.config.MapBasedOperatorDictionary;
import com.ezylang.evalex.data.EvaluationValue;
import com.ezylang.evalex.functions.basic.AbsFunction;
import com.ezylang.evalex.functions.basic.IfFunction;
import com.ezylang.evalex.functions.basic.Log10Function;
import com.ezylang.evalex.functions.basic.MaxFunction;
import com.ezylang.evalex.functions.basic.MinFunction;
import com.ezylang.evalex.functions.basic.SqrtFunction;
import com.ezylang.evalex.operators.arithmetic.InfixDivisionOperator;
import com.ezylang.evalex.operators.arithmetic.InfixMinusOperator;
import com.ezylang.evalex.operators.arithmetic.InfixMultiplicationOperator;
import com.ezylang.evalex.operators.arithmetic.InfixPlusOperator;
import com.ezylang.evalex.operators.arithmetic.InfixPowerOfOperator;
import com.ezylang.evalex.operators.arithmetic.PrefixMinusOperator;
import com.ezylang.evalex.operators.booleans.InfixEqualsOperator;
import com.ezylang.evalex.operators.booleans.InfixGreaterEqualsOperator;
import com.ezylang.evalex.operators.booleans.InfixGreaterOperator;
import com.ezylang.evalex.operators.booleans.InfixLessEqualsOperator;
import com.ezylang.evalex.operators.booleans.InfixLessOperator;
import java.math.MathContext;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * An arithmetic expression over named values: {@code + - * /}, comparisons, {@code ABS LOG10 MAX MIN SQRT IF}. The
 * tables of operators and functions are our own and short: nothing in them can loop, allocate without bound or reach
 * code. Numbers are written with a decimal point; names are letters, digits and underscore and not case-sensitive.
 *
 * <p>Evaluation uses decimal arithmetic of 34 digits and is rounded once, to the nearest double. A division by zero, a
 * missing or non-finite input and a non-finite result are errors, never NaN.
 */
public final class Formula {

    private static final int LONGEST = 500;

    private static final ExpressionConfiguration CONFIGURATION = ExpressionConfiguration.builder()
            .mathContext(MathContext.DECIMAL128)
            .implicitMultiplicationAllowed(false)
            .arraysAllowed(false)
            .structuresAllowed(false)
            .operatorDictionary(MapBasedOperatorDictionary.ofOperators(
                    Map.entry("+", new InfixPlusOperator()),
                    Map.entry("-", new InfixMinusOperator()),
                    Map.entry("*", new InfixMultiplicationOperator()),
                    Map.entry("/", new InfixDivisionOperator()),
                    Map.entry("^", new InfixPowerOfOperator()),
                    Map.entry("-", new PrefixMinusOperator()),
                    Map.entry("==", new InfixEqualsOperator()),
                    Map.entry("<", new InfixLessOperator()),
                    Map.entry("<=", new InfixLessEqualsOperator()),
                    Map.entry(">", new InfixGreaterOperator()),
                    Map.entry(">=", new InfixGreaterEqualsOperator())))
            .functionDictionary(MapBasedFunctionDictionary.ofFunctions(
                    Map.entry("ABS", new AbsFunction()),
                    Map.entry("LOG10", new Log10Function()),
                    Map.entry("MAX", new MaxFunction()),
                    Map.entry("MIN", new MinFunction()),
                    Map.entry("SQRT", new SqrtFunction()),
                    Map.entry("IF", new IfFunction())))
            .defaultConstants(Map.of())
            .build();

    private final String text;
    private final Expression expression;
    private final Set<String> names;

    private Formula(String text, Expression expression, Set<String> names) {
        this.text = text;
        this.expression = expression;
        this.names = names;
    }

    /**
     * Reads a formula.
     *
     * @throws FormulaException if it is empty, over 500 characters or not well formed, with the position of the fault
     */
    public static Formula parse(String text) {
        if (text.isBlank() || text.length() > LONGEST) {
            throw new FormulaException(text, 0, "must have 1 to " + LONGEST + " characters");
        }
        int open = unclosed(text);
        if (open > 0) {
            // The library names the formula's first character instead.
            throw new FormulaException(text, open, "opening bracket is never closed");
        }
        try {
            Expression expression = new Expression(text, CONFIGURATION);
            expression.validate();
            return new Formula(text, expression, Set.copyOf(new TreeSet<>(expression.getUsedVariables())));
        } catch (BaseException e) {
            throw new FormulaException(text, e.getStartPosition(), plain(e));
        }
    }

    /** The names the formula uses, as written. */
    public Set<String> names() {
        return names;
    }

    /**
     * Evaluates with the given values.
     *
     * @param values finite values by name; more than needed does no harm
     * @throws FormulaException if a name has no value, or the result is not a finite number
     */
    public double evaluate(Map<String, Double> values) {
        for (String name : names) {
            Double value = values.get(name);
            if (value == null || !(Math.abs(value) <= Double.MAX_VALUE)) {
                throw new FormulaException(text, text.indexOf(name) + 1, "no value for \"" + name + "\"");
            }
        }
        try {
            EvaluationValue result = expression.copy().withValues(values).evaluate();
            double number = result.isNumberValue() ? result.getNumberValue().doubleValue() : Double.NaN;
            if (!(Math.abs(number) <= Double.MAX_VALUE)) {
                throw new FormulaException(text, 0, "does not give a finite number");
            }
            return number;
        } catch (NumberFormatException e) {
            // The library's way of saying that a logarithm is infinite or undefined.
            throw new FormulaException(text, 0, "does not give a finite number");
        } catch (BaseException e) {
            throw new FormulaException(text, e.getStartPosition(), plain(e));
        } catch (ArithmeticException e) {
            // The library lets some of its decimal arithmetic's own errors through.
            throw new FormulaException(text, 0, String.valueOf(e.getMessage()).toLowerCase(java.util.Locale.ROOT));
        }
    }

    /** 1-based place of the last opening bracket without a closing one; 0 if all are closed. */
    private static int unclosed(String text) {
        Deque<Integer> open = new ArrayDeque<>();
        for (int i = 0; i < text.length(); i++) {
            if (text.charAt(i) == '(') {
                open.push(i + 1);
            } else if (text.charAt(i) == ')' && !open.isEmpty()) {
                open.pop();
            }
        }
        return open.isEmpty() ? 0 : open.pop();
    }

    private static String plain(BaseException e) {
        String message = e.getMessage();
        return message == null ? "cannot be read" : Character.toLowerCase(message.charAt(0)) + message.substring(1);
    }

    @Override
    public String toString() {
        return text;
    }
}
